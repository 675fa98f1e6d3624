import type { Plane } from '../../../picture/frame.js';
import { contrastAt, SURROUND } from './impulses.js';
import type { Suspect } from './suspect.js';

type Size = Pick<Plane, 'width' | 'height'>;

/** How many samples of each plane, across and down, lie under one of another; and how far on each of them starts in a list of all. */
export type Cover = readonly { readonly columns: number; readonly rows: number; readonly start: number }[];

/** What one sample of a plane covers of all planes, its own among them. */
export const coverOf = (own: Size, planes: readonly Size[]): Cover => {
  let start = 0;
  return planes.map(({ width, height }) => {
    const columns = Math.max(1, Math.round(width / own.width));
    const rows = Math.max(1, Math.round(height / own.height));
    const part = { columns, rows, start };
    start += columns * rows;
    return part;
  });
};

/** Nothing added up yet, for each sample that is covered. */
export const nothingCovered = (cover: Cover): Float64Array =>
  new Float64Array(cover.reduce((sum, { columns, rows }) => sum + columns * rows, 0));

/**
 * Adds one frame to what is known of a suspect in all planes: its contrast in each, whether it stands out there or not, at every
 * sample that it covers.
 * @param own the plane in which it stands out
 * @param spanOf codes from black to white of a plane
 */
export const observeInPlanes = (
  { x, y, cover, covered }: Suspect,
  own: Size,
  planes: readonly Plane[],
  spanOf: (plane: number) => number,
): void => {
  cover.forEach(({ columns, rows, start }, q) => {
    const { width, height, samples } = planes[q];
    const [u, v] = [Math.floor((x * width) / own.width), Math.floor((y * height) / own.height)];
    if (u < SURROUND || v < SURROUND || u + columns > width - SURROUND || v + rows > height - SURROUND)
      return;
    const span = spanOf(q);
    for (let k = 0; k < columns * rows; k++) {
      const i = (v + Math.floor(k / columns)) * width + u + (k % columns);
      covered[start + k] += contrastAt(samples, i, width) / span;
    }
  });
};

/**
 * The mean contrast of a suspect in a plane, fraction of range: of the strongest of the samples that it covers there.
 * @returns 0 where the clip has no such plane
 */
export const contrastInPlane = ({ cover, covered, frames }: Suspect, plane: number): number => {
  const part = cover[plane];
  if (!part) return 0;
  let strongest = 0;
  for (let k = part.start; k < part.start + part.columns * part.rows; k++)
    if (Math.abs(covered[k]) > Math.abs(strongest)) strongest = covered[k];
  return strongest / frames;
};
