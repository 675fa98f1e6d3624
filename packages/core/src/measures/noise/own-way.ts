import type { Plane } from '../../picture/frame.js';
import { meanOfBoth, type Area } from './both.js';
import { BLOCK } from './pair.js';

/** How far a block lay off where the motion of the picture put it, pixels of luma. */
export interface OwnWay {
  readonly dx: number;
  readonly dy: number;
}

/** Share of a difference that a shift must explain to be one: of noise, fine or coarse, it explains a few hundredths. */
const EXPLAINED = 0.2;

/** Slopes of the mean of both frames, row by row, in the unit of `perCode` a sample. */
interface Slopes {
  readonly gx: Float64Array;
  readonly gy: Float64Array;
}

const slopesOf = (plane: Plane, area: Area, difference: Float64Array, perCode: number): Slopes => {
  const { width, height } = area;
  const both = meanOfBoth(plane, area, difference, perCode);
  const gx = new Float64Array(width * height);
  const gy = new Float64Array(width * height);
  for (let r = 0; r < height; r++)
    for (let c = 0; c < width; c++) {
      // At the rim the slope to the one neighbour that there is.
      const [left, right] = [Math.max(0, c - 1), Math.min(width - 1, c + 1)];
      const [up, down] = [Math.max(0, r - 1), Math.min(height - 1, r + 1)];
      const i = r * width + c;
      gx[i] = (both[r * width + right] - both[r * width + left]) / (right - left);
      gy[i] = (both[down * width + c] - both[up * width + c]) / (down - up);
    }
  return { gx, gy };
};

/**
 * How far a block of luma lay off where the motion of the picture put it: a leaf, a wave, a wall that is nearer. Least squares
 * over the slopes of the mean of both frames (Lucas and Kanade 1981), whose noise is not that of their difference.
 * @param difference of luma, row by row
 * @returns `null` where a shift explains no more than noise lets it
 */
export const ownWayOf = (
  plane: Plane,
  x: number,
  y: number,
  difference: Float64Array,
  perCode: number,
): OwnWay | null => {
  const { gx, gy } = slopesOf(plane, { x, y, width: BLOCK, height: BLOCK }, difference, perCode);
  let [xx, xy, yy, xd, yd, dd] = [0, 0, 0, 0, 0, 0];
  for (let i = 0; i < difference.length; i++) {
    const d = difference[i];
    xx += gx[i] * gx[i];
    xy += gx[i] * gy[i];
    yy += gy[i] * gy[i];
    xd += gx[i] * d;
    yd += gy[i] * d;
    dd += d * d;
  }
  const det = xx * yy - xy * xy;
  if (det <= 1e-9 * xx * yy) return null;
  const [dx, dy] = [(yy * xd - xy * yd) / det, (xx * yd - xy * xd) / det];
  return dx * xd + dy * yd > EXPLAINED * dd ? { dx, dy } : null;
};

/** Takes what a shift leaves out of a difference. @param way in pixels of this plane */
export const takeOut = (
  plane: Plane,
  area: Area,
  way: OwnWay,
  difference: Float64Array,
  perCode: number,
): void => {
  const { gx, gy } = slopesOf(plane, area, difference, perCode);
  for (let i = 0; i < area.width * area.height; i++) difference[i] -= way.dx * gx[i] + way.dy * gy[i];
};
