import type { Level } from '../picture/pyramid.js';
import type { Similarity } from './similarity.js';

/** Cells of the picture, the better corner of each is followed. */
const CELLS_ACROSS = 20;
/** Side of what is followed, pixels. Even. */
export const TILE = 14;
const HALF = TILE / 2;
const PIXELS = TILE * TILE;
/** Squares in which corners are looked for. */
const SQUARE = 7;
const MOST_STEPS = 5;
const SETTLED = 0.012;
/** A tile that went further from where the camera would have put it was lost. */
const LOST = 5;
/** Likeness below which a tile was lost. */
const LEAST_LIKENESS = 0.6;
/** A displacement known to better than this, pixels, counts in full; one known worse than the other is none. */
const SURE = 0.04;
const MOST_UNSURE = 0.2;
/** Contrast (16-bit codes, RMS of the gradient) below which a tile says nothing. */
const LEAST_GRADIENT = 24;

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
}

/**
 * Follows tiles of a picture into the next one: translation only, sub-pixel, by inverse compositional alignment
 * (Baker and Matthews 2004) that follows a change of light and is blind to one of offset. About 4 operations for each pixel of each
 * tile and step.
 * @param first where the camera's motion is thought to put the tiles
 * @param leftOut 1 where a tile must not lie, or `null`
 * @param black code of black: light is a gain above it
 */
export const followTiles = (
  a: Level,
  b: Level,
  first: Similarity,
  leftOut: Uint8Array | null,
  black: number,
): TileMotions => {
  const corners = pickCorners(a, leftOut);
  const n = corners.length;
  const [x, y, dx, dy, xx, xy, yy] = Array.from({ length: 7 }, () => new Float64Array(n));
  const found = new Uint8Array(n);
  const [cx, cy] = [(a.width - 1) / 2, (a.height - 1) / 2];
  corners.forEach((corner, i) => {
    // A tile of even side has its middle between pixels.
    x[i] = corner.left + HALF - 0.5 - cx;
    y[i] = corner.top + HALF - 0.5 - cy;
    const [px, py] = [
      first.dx + first.zoom * x[i] - first.turn * y[i],
      first.dy + first.turn * x[i] + first.zoom * y[i],
    ];
    const seen = followTile(a, b, corner.left, corner.top, px, py, black);
    if (!seen) return;
    found[i] = 1;
    dx[i] = seen.dx;
    dy[i] = seen.dy;
    xx[i] = seen.xx;
    xy[i] = seen.xy;
    yy[i] = seen.yy;
  });
  return { count: n, x, y, dx, dy, xx, xy, yy, found };
};

interface Corner {
  readonly left: number;
  readonly top: number;
}

/** The place of each cell whose gradients point most ways (Shi and Tomasi 1994); every other row and column is enough. */
const pickCorners = ({ width, height, samples }: Level, leftOut: Uint8Array | null): Corner[] => {
  const columns = Math.floor((width - 4) / SQUARE);
  const rows = Math.floor((height - 4) / SQUARE);
  if (columns < 3 || rows < 3) return [];
  const [gxx, gxy, gyy] = Array.from({ length: 3 }, () => new Float64Array(columns * rows));
  for (let row = 0; row < rows; row++)
    for (let v = 0; v < SQUARE; v += 2) {
      let i = (2 + row * SQUARE + v) * width + 2;
      for (let column = 0, o = row * columns; column < columns; column++, o++) {
        let [xx, xy, yy] = [0, 0, 0];
        for (let end = i + SQUARE; i < end; i += 2) {
          const gx = samples[i + 1] - samples[i - 1];
          const gy = samples[i + width] - samples[i - width];
          xx += gx * gx;
          xy += gx * gy;
          yy += gy * gy;
        }
        // An odd square ends one pixel short of the next.
        i--;
        gxx[o] += xx;
        gxy[o] += xy;
        gyy[o] += yy;
      }
    }
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
            at = { left: 2 + c * SQUARE, top: 2 + r * SQUARE };
          }
        }
      if (at && !(leftOut && isLeftOut(leftOut, width, at))) corners.push(at);
    }
  return corners;
};

const isLeftOut = (leftOut: Uint8Array, width: number, { left, top }: Corner): boolean => {
  for (const v of [0, HALF, TILE - 1])
    for (const u of [0, HALF, TILE - 1]) if (leftOut[(top + v) * width + left + u]) return true;
  return false;
};

/** The smaller eigenvalue of a symmetric 2×2 matrix. */
const smaller = (xx: number, xy: number, yy: number): number =>
  (xx + yy) / 2 - Math.sqrt(((xx - yy) / 2) ** 2 + xy * xy);

interface TileMotion {
  readonly dx: number;
  readonly dy: number;
  readonly xx: number;
  readonly xy: number;
  readonly yy: number;
}

const template = new Float64Array(PIXELS);
const gradX = new Float64Array(PIXELS);
const gradY = new Float64Array(PIXELS);
const moved = new Float64Array(PIXELS);
/** Of the tile that was read last: with the gradients, and its own. */
const sums = new Float64Array(3);

const followTile = (
  a: Level,
  b: Level,
  left: number,
  top: number,
  firstDx: number,
  firstDy: number,
  black: number,
): TileMotion | null => {
  const mean = readTemplate(a, left, top);
  clear(gradX);
  clear(gradY);
  let [xx, xy, yy, tx, ty] = [0, 0, 0, 0, 0];
  for (let i = 0; i < PIXELS; i++) {
    tx += gradX[i] * template[i];
    ty += gradY[i] * template[i];
    xx += gradX[i] * gradX[i];
    xy += gradX[i] * gradY[i];
    yy += gradY[i] * gradY[i];
  }
  // An edge says nothing of what moves along it: there the guess is kept.
  const largest = (xx + yy) / 2 + Math.sqrt(((xx - yy) / 2) ** 2 + xy * xy);
  const floor = 0.01 * largest;
  const [axx, ayy] = [xx + floor, yy + floor];
  const det = axx * ayy - xy * xy;
  if (!(det > 0)) return null;
  let [dx, dy] = [firstDx, firstDy];
  for (let step = 0; step < MOST_STEPS; step++) {
    if (!readMoved(b, left + dx, top + dy)) return null;
    const gain = gainOf(mean - black, sums[2] / PIXELS - black);
    const gx = sums[0] / gain - tx;
    const gy = sums[1] / gain - ty;
    const sx = (ayy * gx - xy * gy) / det;
    const sy = (axx * gy - xy * gx) / det;
    dx -= sx;
    dy -= sy;
    if (Math.abs(dx - firstDx) > LOST || Math.abs(dy - firstDy) > LOST) return null;
    if (Math.abs(sx) + Math.abs(sy) < SETTLED) break;
  }
  const { likeness, left: unexplained } = compare();
  if (likeness < LEAST_LIKENESS) return null;
  // What the two pictures differ by, mostly noise, over the slope of the picture: pixels (Cramér and Rao).
  const unsure = Math.sqrt(unexplained / PIXELS / largest);
  if (unsure > MOST_UNSURE) return null;
  const scale = 1 / (largest * (1 + (unsure / SURE) ** 2));
  return { dx, dy, xx: xx * scale, xy: xy * scale, yy: yy * scale };
};

/** Reads the tile, free of its mean, and its gradients; returns its mean. */
const readTemplate = ({ width, samples }: Level, left: number, top: number): number => {
  let sum = 0;
  for (let r = 0, o = 0; r < TILE; r++)
    for (let i = (top + r) * width + left, end = i + TILE; i < end; i++, o++) {
      template[o] = samples[i];
      sum += samples[i];
      gradX[o] = (samples[i + 1] - samples[i - 1]) / 2;
      gradY[o] = (samples[i + width] - samples[i - width]) / 2;
    }
  const mean = sum / PIXELS;
  for (let o = 0; o < PIXELS; o++) template[o] -= mean;
  return mean;
};

/** Takes the mean out, so that a change of offset moves nothing. */
const clear = (gradient: Float64Array): void => {
  let sum = 0;
  for (let i = 0; i < PIXELS; i++) sum += gradient[i];
  const mean = sum / PIXELS;
  for (let i = 0; i < PIXELS; i++) gradient[i] -= mean;
};

/** A tile darker than this (of 65535, above black) tells no gain. */
const DARK = 1500;

/**
 * Light of the second picture over the first, by the means of a tile: noise does not bias it, as it would bias a gain
 * that is fitted together with the displacement.
 */
const gainOf = (before: number, after: number): number =>
  before < DARK || after < DARK ? 1 : Math.max(0.5, Math.min(2, after / before));

/** Reads the tile at its place in the second picture, bilinear: one fraction serves all of it; and sums it up. */
const readMoved = ({ width, height, samples }: Level, x: number, y: number): boolean => {
  const ix = Math.floor(x);
  const iy = Math.floor(y);
  if (ix < 0 || iy < 0 || ix + TILE >= width || iy + TILE >= height) return false;
  const fx = x - ix;
  const fy = y - iy;
  const w11 = fx * fy;
  const w10 = fx - w11;
  const w01 = fy - w11;
  const w00 = 1 - fx - w01;
  let [gx, gy, sum] = [0, 0, 0];
  for (let r = 0, o = 0; r < TILE; r++) {
    let i = (iy + r) * width + ix;
    let above = samples[i];
    let below = samples[i + width];
    for (const end = i + TILE; i < end; i++, o++) {
      const aboveRight = samples[i + 1];
      const belowRight = samples[i + width + 1];
      const m = w00 * above + w10 * aboveRight + w01 * below + w11 * belowRight;
      moved[o] = m;
      gx += gradX[o] * m;
      gy += gradY[o] * m;
      sum += m;
      above = aboveRight;
      below = belowRight;
    }
  }
  sums[0] = gx;
  sums[1] = gy;
  sums[2] = sum;
  return true;
};

/** Correlation of the tile with what was found, and the power of their difference once the gain is taken out. */
const compare = (): { likeness: number; left: number } => {
  let [sum, ab, aa, bb] = [0, 0, 0, 0];
  for (let i = 0; i < PIXELS; i++) sum += moved[i];
  const mean = sum / PIXELS;
  for (let i = 0; i < PIXELS; i++) {
    const m = moved[i] - mean;
    ab += template[i] * m;
    aa += template[i] * template[i];
    bb += m * m;
  }
  return { likeness: ab / Math.sqrt(aa * bb + 1e-9), left: Math.max(0, bb - (ab * ab) / (aa + 1e-9)) };
};
