import { kernels } from '../../../kernels/kernels.js';
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
/** Smallest contrast that is looked at, codes. */
export const leastContrastOf = (span: number): number => LEAST_CONTRAST * span;

/** How far above the picture's own fine detail and noise a pixel must stand, robust sigmas. */
const STANDS_OUT = 2.5;
/** Pixels this near to the border have no surroundings. */
export const SURROUND = 2;
/** The two places beside it in its row show at least this share of a fault's contrast: most lines and edges end here. */
const ALONG_ROW = 0.3;

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
  return Math.max(leastContrastOf(span), STANDS_OUT * MAD_TO_SIGMA * quantile(sizes, 0.5));
};

/**
 * Counts the pixels of a frame that are local extremes and stand out. Eight pixels at a time, about 30 operations.
 * @param met is told the index of each such pixel and its contrast in codes
 */
export const tallyImpulses = (
  { width, height, samples }: Plane,
  threshold: number,
  tally: PlaneTally,
  met: (index: number, contrast: number) => void,
): void => {
  const count = width - 2 * SURROUND;
  const few = 2 * ALONG_ROW * threshold;
  kernels.reserve(samples.length + width, 2);
  const from = kernels.putWords(samples);
  const found = kernels.room(width);
  for (let y = SURROUND; y < height - SURROUND; y++) {
    const start = y * width + SURROUND;
    const n = kernels.run.impulsesInRow(from + 2 * start, 2 * width, count, few, threshold, found);
    for (let k = 0; k < n; k++) {
      const i = start + kernels.whole(found + 4 * k);
      const contrast = contrastAt(samples, i, width);
      const counts = contrast > 0 ? tally.above : tally.below;
      if (counts[i] < 255) counts[i]++;
      met(i, contrast);
    }
  }
};
