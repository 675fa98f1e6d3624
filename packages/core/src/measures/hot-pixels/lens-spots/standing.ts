import type { Level } from '../../../picture/pyramid.js';
import type { Place } from '../place.js';
import { blobAbout, type Blob } from './blob.js';

/** A smaller place is what registration left of fine detail. */
export const LEAST_RADIUS = 1.6;
/** What is weaker than this share of a spot may be its trace, or a part of it. */
export const WEAKER = 0.7;

/** A blob and how far it stands out where it does most. */
export interface Standing {
  readonly blob: Blob;
  readonly peak: number;
}

/** All that stands out by more than so much, the strongest first. */
export const blobsBeyond = (standingOut: Level, least: number): Standing[] => {
  const { samples } = standingOut;
  const taken = new Uint8Array(samples.length);
  const order = [...samples.keys()].filter((i) => Math.abs(samples[i]) > least);
  order.sort((a, b) => Math.abs(samples[b]) - Math.abs(samples[a]) || a - b);
  return order.flatMap((i) =>
    taken[i] ? [] : [{ blob: blobAbout(standingOut, i, taken), peak: samples[i] }],
  );
};

/**
 * How far the brightest blob stands out that is as large as a spot and no trace of a dark one about as strong.
 * @param trace how far off a spot its own trace lies
 */
export const brightestLeft = (blobs: readonly Standing[], trace: Place): number => {
  const isTrace = (bright: Standing): boolean =>
    blobs.some(({ blob, peak }) => peak < -WEAKER * bright.peak && isAt(bright.blob, blob, trace));
  return blobs.reduce(
    (most, bright) =>
      bright.peak > most && bright.blob.radius >= LEAST_RADIUS && !isTrace(bright) ? bright.peak : most,
    0,
  );
};

/** Whether a blob lies so far off another. */
const isAt = (blob: Blob, other: Blob, off: Place): boolean =>
  Math.hypot(blob.x - other.x - off.x, blob.y - other.y - off.y) <= blob.radius + other.radius;
