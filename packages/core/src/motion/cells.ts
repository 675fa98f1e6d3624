import type { Level } from '../picture/pyramid.js';
import type { Place } from './camera.js';
import { ROW_BANDS } from './camera-fit.js';
import type { TileMotions } from './tiles.js';

type Size = Pick<Level, 'width' | 'height'>;

/** Columns of the cells of the picture that are watched through the frames. */
export const COLUMNS = 16;
/** As many rows of them as there are row bands. */
export const ROWS = ROW_BANDS;
/** All of them. */
export const CELLS = COLUMNS * ROWS;

/** Row of the picture in which a cell lies, 0 the topmost. */
export const rowOf = (cell: number): number => Math.floor(cell / COLUMNS);

const columnOf = (cell: number): number => cell % COLUMNS;

/** Whether a cell lies along an edge of the picture. */
export const isAtTheEdge = (cell: number): boolean =>
  rowOf(cell) === 0 || rowOf(cell) === ROWS - 1 || columnOf(cell) === 0 || columnOf(cell) === COLUMNS - 1;

/** Fewer of the cells that are known (share), or in fewer rows, are a title, a clock or a limb. */
const LEAST_SHARE = 0.08;
const LEAST_ROWS = 4;

/** Whether some cells are enough, of so many that are known, and lie apart enough to be of the scene. */
export const areOfTheScene = (cells: readonly number[], known: number): boolean =>
  cells.length >= LEAST_SHARE * known && new Set(cells.map(rowOf)).size >= LEAST_ROWS;

/** Where the middle of a cell lies about the middle of the picture, pixels. */
export const placeOf = (cell: number, { width, height }: Size): Place => ({
  x: ((columnOf(cell) + 0.5) / COLUMNS - 0.5) * width,
  y: ((rowOf(cell) + 0.5) / ROWS - 0.5) * height,
});

/** Cell in which a tile lies. */
export const cellOf = (tiles: TileMotions, i: number, { width, height }: Size): number => {
  const column = Math.min(COLUMNS - 1, Math.max(0, Math.floor((tiles.x[i] / width + 0.5) * COLUMNS)));
  const row = Math.min(ROWS - 1, Math.max(0, Math.floor((tiles.y[i] / height + 0.5) * ROWS)));
  return row * COLUMNS + column;
};

/**
 * How far the tiles of each cell went from the frame before to one: their mean, x and y in turn, pixels; `NaN` where none was
 * found.
 * @param out 2 · `CELLS` numbers
 */
export const cellMotions = (tiles: TileMotions, size: Size, out: Float64Array): void => {
  const counts = new Uint16Array(CELLS);
  out.fill(0);
  for (let i = 0; i < tiles.count; i++) {
    if (!tiles.found[i]) continue;
    const cell = cellOf(tiles, i, size);
    counts[cell]++;
    out[2 * cell] += tiles.dx[i];
    out[2 * cell + 1] += tiles.dy[i];
  }
  for (let cell = 0; cell < CELLS; cell++) {
    // Nothing over nothing is not known.
    out[2 * cell] /= counts[cell];
    out[2 * cell + 1] /= counts[cell];
  }
};
