import { constantOf, kernels } from '../kernels/kernels.js';
import type { Level } from '../picture/pyramid.js';
import type { Similarity } from './similarity.js';

/** Cells of the picture, the better corner of each is followed. */
const CELLS_ACROSS = 20;
/** Side of what is followed, pixels. Even. */
export const TILE = constantOf('TILE');
const HALF = TILE / 2;
/** Squares in which corners are looked for. */
const SQUARE = constantOf('SQUARE');
/** Contrast (16-bit codes, RMS of the gradient) below which a tile says nothing. */
const LEAST_GRADIENT = 24;

/**
 * Whose slopes tell how far to go. Those of `both` pictures are free of their noise, which is not the same in two frames:
 * nothing is held back, and what is known is known. Those of the first alone go by what is plain and stay with the guess
 * elsewhere: where the noise is the same, or every place needs an answer that is no worse than the guess.
 */
export type SlopesOf = 'both' | 'first';

/** Where tiles of one picture are found in the next; pixels, positions about the middle of the picture. */
export interface TileMotions {
  readonly count: number;
  readonly x: Float64Array;
  readonly y: Float64Array;
  readonly dx: Float64Array;
  readonly dy: Float64Array;
  /** How well each displacement is known, in x, across and in y: the normal matrix, largest eigenvalue near 1. */
  readonly xx: Float64Array;
  readonly xy: Float64Array;
  readonly yy: Float64Array;
  /** Whether the tile was found again. */
  readonly found: Uint8Array;
  /** Share of what the picture shows that was found again, 0–1: tiles count by their contrast, for of what is plain nothing is. */
  readonly foundShare: number;
}

/**
 * Follows tiles of a picture into the next one: translation only, sub-pixel, by inverse compositional alignment
 * (Baker and Matthews 2004) that follows a change of light and is blind to one of offset. About 4 operations for each pixel of each
 * tile and step.
 * @param first where the camera's motion is thought to put the tiles
 * @param leftOut 1 where a tile must not lie, or `null`
 * @param black code of black: light is a gain above it
 * @param slopesOf see there
 */
export const followTiles = (
  a: Level,
  b: Level,
  first: Similarity,
  leftOut: Uint8Array | null,
  black: number,
  slopesOf: SlopesOf = 'both',
): TileMotions => {
  const corners = pickCorners(a, leftOut);
  const n = corners.length;
  const [x, y, dx, dy, xx, xy, yy] = Array.from({ length: 7 }, () => new Float64Array(n));
  const found = new Uint8Array(n);
  const [cx, cy] = [(a.width - 1) / 2, (a.height - 1) / 2];
  const between = [kernels.keep(a.samples), kernels.keep(b.samples)] as const;
  const { follow, result } = followerOf(a, between, black, slopesOf);
  let [all, again] = [0, 0];
  for (let i = 0; i < n; i++) {
    const { left, top, contrast } = corners[i];
    all += contrast;
    // A tile of even side has its middle between pixels.
    x[i] = left + HALF - 0.5 - cx;
    y[i] = top + HALF - 0.5 - cy;
    const px = first.dx + first.zoom * x[i] - first.turn * y[i];
    const py = first.dy + first.turn * x[i] + first.zoom * y[i];
    if (!follow(left, top, px, py)) continue;
    found[i] = 1;
    again += contrast;
    dx[i] = result(0);
    dy[i] = result(1);
    xx[i] = result(2);
    xy[i] = result(3);
    yy[i] = result(4);
  }
  return { count: n, x, y, dx, dy, xx, xy, yy, found, foundShare: all > 0 ? again / all : 0 };
};

interface Corner {
  readonly left: number;
  readonly top: number;
  /** Root of the summed squares of its gradients. */
  readonly contrast: number;
}

/** The place of each cell whose gradients point most ways (Shi and Tomasi 1994); every other row and column is enough. */
const pickCorners = ({ width, height, samples }: Level, leftOut: Uint8Array | null): Corner[] => {
  const columns = Math.floor((width - 4) / SQUARE);
  const rows = Math.floor((height - 4) / SQUARE);
  if (columns < 3 || rows < 3) return [];
  const [gxx, gxy, gyy] = gradientsOf(width, samples, columns, rows);
  const cell = Math.max(2, Math.round(columns / CELLS_ACROSS));
  const least = LEAST_GRADIENT * LEAST_GRADIENT * 4 * 4 * 16;
  const corners: Corner[] = [];
  const across = Math.min(1, columns - 1);
  for (let top = 0; top + 1 < rows; top += cell)
    for (let left = 0; left + across < columns; left += cell) {
      let best = 0;
      let at: Corner | null = null;
      for (let r = top; r < Math.min(top + cell, rows - 1); r++)
        for (let c = left; c < Math.min(left + cell, columns - 1); c++) {
          const o = r * columns + c;
          const xx = gxx[o] + gxx[o + 1] + gxx[o + columns] + gxx[o + columns + 1];
          const yy = gyy[o] + gyy[o + 1] + gyy[o + columns] + gyy[o + columns + 1];
          const xy = gxy[o] + gxy[o + 1] + gxy[o + columns] + gxy[o + columns + 1];
          // Corners first, but an edge is better than nothing: its one direction is known well.
          const score = smaller(xx, xy, yy) + 0.02 * (xx + yy);
          if (score > best && xx + yy > least) {
            best = score;
            at = { left: 2 + c * SQUARE, top: 2 + r * SQUARE, contrast: Math.sqrt(xx + yy) };
          }
        }
      if (at && !(leftOut && isLeftOut(leftOut, width, at))) corners.push(at);
    }
  return corners;
};

/** Squared gradients of the squares, x with x, x with y, y with y; every other row and column. */
const gradientsOf = (
  width: number,
  samples: Float32Array,
  columns: number,
  rows: number,
): readonly [Float32Array, Float32Array, Float32Array] => {
  const count = columns * rows;
  const from = kernels.keep(samples);
  kernels.reserve(3 * count, 3);
  const [xx, xy, yy] = [kernels.room(count), kernels.room(count), kernels.room(count)];
  kernels.run.squareGradients(from, width, columns, rows, xx, xy, yy);
  return [kernels.get(xx, count), kernels.get(xy, count), kernels.get(yy, count)];
};

const isLeftOut = (leftOut: Uint8Array, width: number, { left, top }: Corner): boolean => {
  for (const v of [0, HALF, TILE - 1])
    for (const u of [0, HALF, TILE - 1]) if (leftOut[(top + v) * width + left + u]) return true;
  return false;
};

/** The smaller eigenvalue of a symmetric 2×2 matrix. */
const smaller = (xx: number, xy: number, yy: number): number =>
  (xx + yy) / 2 - Math.sqrt(((xx - yy) / 2) ** 2 + xy * xy);

/**
 * Follows tiles of one pair of pictures with the kernel; `motion/tile.ts` says plainly what it does.
 * @param size of both pictures
 * @param between where they lie in the memory of the kernels
 * @returns `follow`: whether a tile was found; `result`: of it dx, dy, xx, xy, yy
 */
export const followerOf = (
  { width, height }: Pick<Level, 'width' | 'height'>,
  [from, to]: readonly [number, number],
  black: number,
  slopesOf: SlopesOf,
): {
  follow: (left: number, top: number, dx: number, dy: number) => boolean;
  result: (index: number) => number;
} => {
  const crossed = slopesOf === 'both' ? 1 : 0;
  return {
    follow: (left, top, dx, dy) =>
      kernels.run.followTile(from, to, width, height, left, top, dx, dy, black, crossed) === 1,
    result: (index) => kernels.result(index),
  };
};
