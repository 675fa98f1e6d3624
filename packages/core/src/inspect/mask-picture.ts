import type { ClipFacts } from '#document';
import type { Plane } from '../picture/frame.js';
import { paint } from '../picture/paint.js';

/** Beside what is marked, the picture is so much darker. */
const DIMMED = 0.45;

/**
 * The frame as it came, darker, with what is marked in white: what a treatment would take away.
 * @param planes Y Cb Cr, G B R where the matrix is `rgb`, or luma alone
 * @param mask of the size of luma, 255 where something is marked
 * @param out RGBA, four bytes a pixel
 */
export const paintMask = (
  planes: readonly Plane[],
  mask: Plane,
  facts: Pick<ClipFacts, 'bitDepth' | 'range' | 'matrix'>,
  out: Uint8ClampedArray,
): void => {
  paint(planes, facts, 'luma', null, out);
  for (let i = 0, o = 0; i < mask.samples.length; i++, o += 4) {
    const value = mask.samples[i] > 0 ? 255 : DIMMED * out[o];
    out[o] = out[o + 1] = out[o + 2] = value;
  }
};
