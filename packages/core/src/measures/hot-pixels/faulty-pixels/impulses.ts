import type { Plane } from '../../../picture/frame.js';
import { MAD_TO_SIGMA, quantile } from '../../../maths/robust.js';

/** How one plane's pixels stand out against their surroundings, counted over the frames. */
export interface PlaneTally {
  readonly width: number;
  readonly height: number;
  readonly above: Uint8Array;
  readonly below: Uint8Array;
}

/**
 * A tally in which nothing was counted yet.
 * @param width samples in a row of the plane
 */
export const newTally = (width: number, height: number): PlaneTally => ({
  width,
  height,
  above: new Uint8Array(width * height),
  below: new Uint8Array(width * height),
});

/** Smallest contrast that is looked at, fraction of range. */
const LEAST_CONTRAST = 0.02;
/** How far above the picture's own fine detail and noise a pixel must stand, robust sigmas. */
const STANDS_OUT = 2.5;
const SURROUND = 2;
/** Every pair of opposite places shows at least this share of a fault's contrast. */
const EVERY_WAY = 0.3;

/** Contrast of the pixel at `i` with the eight at distance two: what lies between belongs to its own smear. */
export const contrastAt = (s: Plane['samples'], i: number, w: number): number =>
  s[i] -
  (s[i - 2] +
    s[i + 2] +
    s[i - 2 * w] +
    s[i + 2 * w] +
    s[i - 2 * w - 2] +
    s[i - 2 * w + 2] +
    s[i + 2 * w - 2] +
    s[i + 2 * w + 2]) /
    8;

/** The threshold for one frame, in codes: above its noise, and above a visible contrast. */
export const thresholdFor = (plane: Plane, span: number): number => {
  const { width, height, samples } = plane;
  const sizes: number[] = [];
  const step = Math.max(1, Math.floor((width * height) / 8000));
  for (let i = 2 * width + 2; i < (height - 2) * width - 2; i += step)
    sizes.push(Math.abs(contrastAt(samples, i, width)));
  return Math.max(LEAST_CONTRAST * span, STANDS_OUT * MAD_TO_SIGMA * quantile(sizes, 0.5));
};

/**
 * Counts the pixels of a frame that are local extremes and stand out. About 12 operations per pixel.
 * @param met is told the index of each such pixel and its contrast in codes
 */
export const tallyImpulses = (
  plane: Plane,
  threshold: number,
  tally: PlaneTally,
  met: (index: number, contrast: number) => void,
): void => {
  const { width, height, samples: s } = plane;
  const few = 2 * EVERY_WAY * threshold;
  for (let y = SURROUND; y < height - SURROUND; y++) {
    for (let x = SURROUND, i = y * width + SURROUND; x < width - SURROUND; x++, i++) {
      const p = s[i];
      // Cheap refusals first: most pixels are between two of their neighbours.
      // Along the row it stands out by a fair share of what it must stand out by all round.
      const along = p + p - s[i - 2] - s[i + 2];
      if (along < few && along > -few) continue;
      const l = s[i - 1];
      const r = s[i + 1];
      const u = s[i - width];
      const d4 = s[i + width];
      if (along > 0 ? l > p || r > p || u > p || d4 > p : l < p || r < p || u < p || d4 < p) continue;
      const d = contrastAt(s, i, width);
      if (d < threshold && d > -threshold) continue;
      if (!isExtreme(s, i, width, d > 0)) continue;
      if (d > 0) {
        if (tally.above[i] < 255) tally.above[i]++;
      } else if (tally.below[i] < 255) tally.below[i]++;
      met(i, d);
    }
  }
};

const isExtreme = (s: Plane['samples'], i: number, w: number, bright: boolean): boolean => {
  const p = s[i];
  for (const j of [i - w - 1, i - w, i - w + 1, i - 1, i + 1, i + w - 1, i + w, i + w + 1])
    if (bright ? s[j] > p : s[j] < p) return false;
  return true;
};
