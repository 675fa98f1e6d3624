import type { Region } from '#document';
import type { Plane } from '../picture/frame.js';

/** A step is no higher than this, in codes of 8 bits; more is an edge of something. */
const HIGHEST_STEP = 4;

/**
 * Draws where the level goes from one code to the next inside places that were found to be banded.
 * @param regions in clip pixels
 * @param out RGBA of the whole picture, transparent where there is no contour
 */
export const paintContours = (
  { width, height, samples }: Plane,
  bitDepth: number,
  regions: readonly Region[],
  out: Uint8ClampedArray,
): void => {
  const most = HIGHEST_STEP * 2 ** (bitDepth - 8);
  const steps = (a: number, b: number): boolean => a !== b && Math.abs(a - b) <= most;
  for (const r of regions) {
    const [right, bottom] = [Math.min(width - 1, r.x + r.width), Math.min(height - 1, r.y + r.height)];
    for (let y = Math.max(0, Math.floor(r.y)); y < bottom; y++)
      for (let x = Math.max(0, Math.floor(r.x)); x < right; x++) {
        const i = y * width + x;
        if (!steps(samples[i], samples[i + 1]) && !steps(samples[i], samples[i + width])) continue;
        out[4 * i] = out[4 * i + 1] = out[4 * i + 2] = 20;
        out[4 * i + 3] = 255;
      }
  }
};
