import type { Plane } from '../../picture/frame.js';

/** A block of a plane, samples; the corner is its top left one. */
export interface Area {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
}

/**
 * Mean of both frames of a pair in a block of the first, row by row. It and their difference hold different noise: one tells
 * nothing of the other.
 * @param difference the second frame less the first, row by row, in the unit of `perCode`
 */
export const meanOfBoth = (
  { samples, width: stride }: Plane,
  { x, y, width, height }: Area,
  difference: Float64Array,
  perCode: number,
): Float64Array => {
  const both = new Float64Array(width * height);
  for (let r = 0, i = 0; r < height; r++)
    for (let c = 0; c < width; c++, i++)
      both[i] = perCode * samples[(y + r) * stride + x + c] + difference[i] / 2;
  return both;
};
