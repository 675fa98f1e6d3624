import type { ClipFacts, Overrides, Reading } from '#document';
import type { NoiseValues } from '../measures/noise/descriptor.js';
import { RunningNoise } from '../measures/noise/noise.js';
import { planFeed, type Plane } from '../picture/frame.js';
import { Mask } from '../picture/mask.js';
import { lumaScale } from '../picture/signal.js';

/** What two neighbouring frames say about a flat place. */
export interface PatchReading {
  /** Mean level of luma (green where the matrix is `rgb`), % of range. */
  readonly levelPct: number;
  readonly noise: Reading<NoiseValues, Record<never, never>>;
}

/**
 * Measures the noise of a place that a technician drew, at one moment: the same measure as for the whole clip, on one
 * pair of frames.
 * @param first, second neighbouring frames; overwritten by nobody
 * @param patch in clip pixels
 */
export const patchOf = (
  first: readonly Plane[],
  second: readonly Plane[],
  facts: ClipFacts,
  patch: NonNullable<Overrides['noisePatch']>,
  viewing?: Overrides['viewing'],
): PatchReading => {
  const twoFrames = { ...facts, frames: 2 };
  const noise = new RunningNoise(twoFrames, {
    overrides: { noisePatch: patch, ...(viewing && { viewing }) },
    mask: new Mask(),
    rowStep: 1,
    plan: planFeed(twoFrames),
  });
  noise.take({ view: 'burst', index: 0, planes: first });
  noise.take({ view: 'burst', index: 1, planes: second });
  return { levelPct: meanLevel(first[0], facts, patch), noise: noise.finish() };
};

const meanLevel = (
  { width, height, samples }: Plane,
  facts: ClipFacts,
  patch: NonNullable<Overrides['noisePatch']>,
): number => {
  const { black, span } = lumaScale(facts);
  const [left, top] = [Math.max(0, Math.floor(patch.x)), Math.max(0, Math.floor(patch.y))];
  const right = Math.min(width, Math.ceil(patch.x + patch.width));
  const bottom = Math.min(height, Math.ceil(patch.y + patch.height));
  let sum = 0;
  for (let y = top; y < bottom; y++) for (let x = left; x < right; x++) sum += samples[y * width + x];
  return (100 * (sum / Math.max(1, (right - left) * (bottom - top)) - black)) / span;
};
