import type { Level } from '../picture/pyramid.js';
import { constantOf } from '../kernels/kernels.js';
import { TILE, type SlopesOf } from './tiles.js';

const PIXELS = TILE * TILE;
/** Those with a neighbour on every side. */
const INNER = (TILE - 2) * (TILE - 2);
/** Steps with slopes of the tile alone, and with those of both pictures; and how far it may go. */
const MOST_STEPS = { first: constantOf('MOST_STEPS'), both: constantOf('MOST_STEPS_CROSSED') };
const SETTLED = constantOf('SETTLED');
/** Share of the larger slope that steadies a step, and the longest step behind the first, pixels. */
const STEADIED = constantOf('STEADIED');
const LONGEST = constantOf('LONGEST');
/** Less of the slope than this, seen in both pictures, is none. */
const LEAST_SEEN = constantOf('LEAST_SEEN');
/** A tile that went further from where the camera would have put it was lost. */
const LOST = { first: constantOf('LOST'), both: constantOf('LOST_CROSSED') };
/** Likeness below which a tile was lost. */
const LEAST_LIKENESS = constantOf('LEAST_LIKENESS');
/** A displacement known to better than this, pixels, counts in full; one known worse than the other is none. */
const SURE = constantOf('SURE');
const MOST_UNSURE = constantOf('MOST_UNSURE');

/** Where a tile went, pixels, and how well it is known: the normal matrix, largest eigenvalue near 1. */
export interface TileMotion {
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

/**
 * Follows one tile, plainly: the kernel of the same name does this four pixels at a time, and is compared with it.
 * @param black code of black: light is a gain above it
 * @param slopesOf see there
 * @returns `null` where it was lost
 */
export const followTile = (
  a: Level,
  b: Level,
  left: number,
  top: number,
  firstDx: number,
  firstDy: number,
  black: number,
  slopesOf: SlopesOf,
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
  let slopes: Slopes = { xx, xy, yy };
  const own = largerOf(slopes);
  if (!(own > 0)) return null;
  let largest = own;
  let [dx, dy] = [firstDx, firstDy];
  const crossed = slopesOf === 'both';
  const lost = LOST[slopesOf];
  for (let step = 0; step < MOST_STEPS[slopesOf]; step++) {
    const across = crossed && step > 0;
    if (!readMoved(b, left + dx, top + dy)) return null;
    const gain = gainOf(mean - black, sums[2] / PIXELS - black);
    const gx = sums[0] / gain - tx;
    const gy = sums[1] / gain - ty;
    if (across) {
      slopes = crossSlopes(gain);
      largest = largerOf(slopes);
      if (largest < LEAST_SEEN * own) return null;
    }
    // An edge says nothing of what moves along it: there the guess is kept.
    const axx = slopes.xx + STEADIED * largest;
    const ayy = slopes.yy + STEADIED * largest;
    const det = axx * ayy - slopes.xy * slopes.xy;
    const sx = (ayy * gx - slopes.xy * gy) / det;
    const sy = (axx * gy - slopes.xy * gx) / det;
    const shortened = across ? Math.min(1, LONGEST / Math.hypot(sx, sy)) : 1;
    dx -= shortened * sx;
    dy -= shortened * sy;
    if (Math.abs(dx - firstDx) > lost || Math.abs(dy - firstDy) > lost) return null;
    if ((across || !crossed) && Math.abs(sx) + Math.abs(sy) < SETTLED) break;
  }
  const { likeness, left: unexplained } = compare();
  if (likeness < LEAST_LIKENESS) return null;
  // What the two pictures differ by, mostly noise, over the slope of the picture: pixels (Cramér and Rao).
  const unsure = Math.sqrt(unexplained / PIXELS / largest);
  if (unsure > MOST_UNSURE) return null;
  const scale = 1 / (largest * (1 + (unsure / SURE) ** 2));
  return { dx, dy, xx: slopes.xx * scale, xy: slopes.xy * scale, yy: slopes.yy * scale };
};

/** Squares and products of slopes, summed over a tile. */
type Slopes = Pick<TileMotion, 'xx' | 'xy' | 'yy'>;

const largerOf = ({ xx, xy, yy }: Slopes): number => (xx + yy) / 2 + Math.hypot((xx - yy) / 2, xy);

/**
 * Slopes of the tile with those of what was found: those of one picture with themselves hold its noise, which shortens every
 * step and claims to know what it does not; the noise of two pictures is not the same, and adds nothing.
 * @param gain light of what was found over that of the tile
 */
const crossSlopes = (gain: number): Slopes => {
  let [xx, xy, yy, aX, aY, bX, bY] = [0, 0, 0, 0, 0, 0, 0];
  for (let r = 1; r < TILE - 1; r++)
    for (let i = r * TILE + 1, end = (r + 1) * TILE - 1; i < end; i++) {
      const mx = (moved[i + 1] - moved[i - 1]) / 2;
      const my = (moved[i + TILE] - moved[i - TILE]) / 2;
      xx += gradX[i] * mx;
      xy += (gradX[i] * my + gradY[i] * mx) / 2;
      yy += gradY[i] * my;
      aX += gradX[i];
      aY += gradY[i];
      bX += mx;
      bY += my;
    }
  const scale = PIXELS / INNER / gain;
  const found = {
    xx: scale * (xx - (aX * bX) / INNER),
    xy: scale * (xy - (aX * bY + aY * bX) / 2 / INNER),
    yy: scale * (yy - (aY * bY) / INNER),
  };
  // Slopes that only noise had can come out below nothing.
  const below = Math.max(0, largerOf(found) - found.xx - found.yy);
  return { xx: found.xx + below, xy: found.xy, yy: found.yy + below };
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
const DARK = constantOf('DARK');

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
