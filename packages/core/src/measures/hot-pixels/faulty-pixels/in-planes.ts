import type { Plane } from '../../../picture/frame.js';
import { contrastAt, SURROUND } from './impulses.js';
import type { Cover, Suspect } from './suspect.js';

type Size = Pick<Plane, 'width' | 'height'>;

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
 * Adds one frame to what is known of suspects in all planes: their contrast in each, whether they stand out there or not, at every
 * sample that they cover.
 * @param own the plane in which they stand out
 * @param spanOf codes from black to white of a plane
 */
export const observeInPlanes = (
  suspects: Iterable<Suspect>,
  own: Size,
  planes: readonly Plane[],
  spanOf: (plane: number) => number,
): void => {
  const spans = planes.map((_, q) => spanOf(q));
  const across = planes.map(({ width }) => width / own.width);
  const down = planes.map(({ height }) => height / own.height);
  for (const { x, y, cover, covered } of suspects)
    for (let q = 0; q < planes.length; q++) {
      const { columns, rows, start } = cover[q];
      const { width, height, samples } = planes[q];
      const [u, v] = [Math.floor(x * across[q]), Math.floor(y * down[q])];
      if (u < SURROUND || v < SURROUND || u + columns > width - SURROUND || v + rows > height - SURROUND)
        continue;
      for (let row = 0, k = start; row < rows; row++)
        for (let column = 0; column < columns; column++, k++)
          covered[k] += contrastAt(samples, (v + row) * width + u + column, width) / spans[q];
    }
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
