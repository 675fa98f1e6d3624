import { solveSymmetric } from '../maths/solve.js';
import type { TileMotions } from './tiles.js';

/** Row bands whose own displacement is kept: enough to follow a camera through the read-out of one frame. */
export const ROW_BANDS = 10;
const UNKNOWNS = 2 + 2 * ROW_BANDS;

/** Displacement of each row band, and what changes along the rows: zoom in x, turn in y, each for one `side`. */
export interface Fit {
  readonly zoom: number;
  readonly turn: number;
  readonly bandX: Float64Array;
  readonly bandY: Float64Array;
}

/** Where the middle of a band lies about the middle of the picture, pixels. */
export const bandMiddle = (band: number, height: number): number => ((band + 0.5) / ROW_BANDS - 0.5) * height;

/** The band whose middle lies above a row, or the last but one: rows beyond the last middles go on as these two lead. */
export const bandBefore = (row: number): number => Math.max(0, Math.min(ROW_BANDS - 2, Math.floor(row)));

/** How far a tile lies off what a fit says of its place, each direction as well as it is known; pixels. */
export const distance = (tiles: TileMotions, i: number, fit: Fit, row: number, side: number): number => {
  const u = tiles.x[i] / side;
  const b = bandBefore(row);
  const t = row - b;
  const rx = tiles.dx[i] - (1 - t) * fit.bandX[b] - t * fit.bandX[b + 1] - fit.zoom * u;
  const ry = tiles.dy[i] - (1 - t) * fit.bandY[b] - t * fit.bandY[b + 1] - fit.turn * u;
  return Math.sqrt(Math.max(0, tiles.xx[i] * rx * rx + 2 * tiles.xy[i] * rx * ry + tiles.yy[i] * ry * ry));
};

const normal = new Float64Array(UNKNOWNS * UNKNOWNS);
const right = new Float64Array(UNKNOWNS);
/** Keeps turn and zoom at nothing where no tile tells them. */
const TIE = 0.003;
/**
 * Bands lie on a smooth curve: between two neighbouring bands the camera's speed hardly changes. Stiff enough at first that a
 * subject cannot bend the bands that it fills.
 */
export const STIFF = 6;
/** Then, by how far tiles lie off, as stiff as the read-out of a camera that shakes bends it: RMS second difference, pixels. */
export const BENDS_PX = 0.05;
const RIGID = 1e4;
/** Second difference from band to band. */
const BEND = [1, -2, 1] as const;

/** The unknowns that a tile hangs on, those in x (those in y come next), and by how much: the zoom, and the two bands about it. */
const hangsOn = new Int32Array(3);
const shares = new Float64Array(3);

/** Adds what a tile says to the normal equations, below the diagonal. */
const addTile = (xx: number, xy: number, yy: number, dx: number, dy: number): void => {
  const N = UNKNOWNS;
  const gx = xx * dx + xy * dy;
  const gy = xy * dx + yy * dy;
  for (let a = 0; a < 3; a++) {
    const row = hangsOn[a];
    const share = shares[a];
    right[row] += share * gx;
    right[row + 1] += share * gy;
    for (let b = 0; b <= a; b++) {
      const column = hangsOn[b];
      const both = share * shares[b];
      normal[row * N + column] += both * xx;
      normal[(row + 1) * N + column] += both * xy;
      normal[(row + 1) * N + column + 1] += both * yy;
      if (a !== b) normal[row * N + column + 1] += both * xy;
    }
  }
};

/**
 * One step of the weighted least squares.
 * @param rowOf where each tile lies among the middles of the bands, 0 in that of the first
 * @param rigid whether all bands go alike
 * @param stiff how much a bend from band to band costs
 * @returns `null` where the tiles do not tell
 */
export const solve = (
  tiles: TileMotions,
  found: readonly number[],
  weights: Float64Array,
  rowOf: Float64Array,
  side: number,
  rigid: boolean,
  stiff: number,
): Fit | null => {
  normal.fill(0);
  right.fill(0);
  const N = UNKNOWNS;
  for (const i of found) {
    const w = weights[i];
    if (w === 0) continue;
    const band = bandBefore(rowOf[i]);
    const within = rowOf[i] - band;
    hangsOn[1] = 2 + 2 * band;
    hangsOn[2] = 4 + 2 * band;
    shares[0] = tiles.x[i] / side;
    shares[1] = 1 - within;
    shares[2] = within;
    addTile(w * tiles.xx[i], w * tiles.xy[i], w * tiles.yy[i], tiles.dx[i], tiles.dy[i]);
  }
  normal[0] += TIE;
  normal[N + 1] += TIE;
  // At first all bands go alike: else a subject at the top and the scene at the bottom are two ends of a lean.
  if (rigid)
    for (let p = 2; p + 2 < N; p++) {
      normal[p * N + p] += RIGID;
      normal[(p + 2) * N + p + 2] += RIGID;
      normal[(p + 2) * N + p] -= RIGID;
    }
  for (let b = 0; b + 2 < ROW_BANDS; b++)
    for (let axis = 0; axis < 2; axis++)
      for (let i = 0; i < 3; i++)
        for (let j = 0; j <= i; j++)
          normal[(2 + 2 * (b + i) + axis) * N + 2 + 2 * (b + j) + axis] += stiff * BEND[i] * BEND[j];
  const x = solveSymmetric(normal, right);
  if (!x) return null;
  const bandX = new Float64Array(ROW_BANDS);
  const bandY = new Float64Array(ROW_BANDS);
  for (let b = 0; b < ROW_BANDS; b++) {
    bandX[b] = x[2 + 2 * b];
    bandY[b] = x[3 + 2 * b];
  }
  return { zoom: x[0], turn: x[1], bandX, bandY };
};
