import type { Level } from '../picture/pyramid.js';

/** Part of a picture, in its pixels; `right` and `bottom` are outside it. */
export interface Window {
  readonly left: number;
  readonly right: number;
  readonly top: number;
  readonly bottom: number;
}

/**
 * Correlation, −1 to 1, of a window of one picture with another one read at a whole-pixel shift; both are free of their
 * mean. The caller keeps the shifted window inside. Six operations a pixel.
 * @param rowStep every so many rows are looked at
 */
export const correlationAt = (
  { width: widthA, samples: p }: Level,
  { width: widthB, samples: q }: Level,
  { left, right, top, bottom }: Window,
  dx: number,
  dy: number,
  rowStep: number,
): number => {
  let ab = 0;
  let aa = 1e-9;
  let bb = 1e-9;
  for (let y = top; y < bottom; y += rowStep) {
    const away = (y + dy) * widthB + dx - y * widthA;
    for (let i = y * widthA + left, end = y * widthA + right; i < end; i++) {
      const u = p[i];
      const v = q[i + away];
      ab += u * v;
      aa += u * u;
      bb += v * v;
    }
  }
  return ab / Math.sqrt(aa * bb);
};
