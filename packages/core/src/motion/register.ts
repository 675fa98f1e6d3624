import { solveSymmetric } from '../maths/solve.js';
import { pyramid, withoutLocalMean, type Level } from '../picture/pyramid.js';

/**
 * How one picture lies over another: a point (x, y) counted from the middle of the first is found at
 * (x + dx + zoom·x − turn·y, y + dy + turn·x + zoom·y) in the second. `dx`, `dy` in pixels; `zoom` and `turn`
 * (radians) are small.
 */
export interface Similarity {
  readonly dx: number;
  readonly dy: number;
  readonly zoom: number;
  readonly turn: number;
}

export interface Registration {
  readonly motion: Similarity;
  /** Share of the tracked points that follow this motion, 0–1. */
  readonly following: number;
}

/** A picture prepared for registration: levels from fine to coarse, each free of its local mean. */
export type Prepared = readonly Level[];

const LOCAL_MEAN_RADIUS = 5;

export const prepare = (base: Level): Prepared => pyramid(base).map((level) => withoutLocalMean(level, LOCAL_MEAN_RADIUS));

const SEARCH_RADIUS = 7;
const POINT_GRID = 32;
const PASSES = 8;
/** Stop when a pass moves the picture by less than this, pixels of the level. */
const SETTLED = 0.002;
const LEAST_POINTS = 12;
/** Tukey's constant: residuals beyond this many robust sigmas play no part. */
const REACH = 4.685;

/**
 * Registers two prepared pictures: a search at the coarsest level, then at each finer one a Gauss–Newton alignment
 * (Lucas and Kanade 1981; robust weights after Tukey) on the strongest point of each cell of a grid, so that a
 * subject's contrast cannot outvote the rest of the picture.
 * @returns the motion in pixels of the finest level, or `null` where there is too little texture
 */
export const register = (from: Prepared, to: Prepared, guess?: Similarity): Registration | null => {
  const coarsest = from.length - 1;
  let motion = guess ? rescale(guess, 1 / 2 ** coarsest) : search(from[coarsest], to[coarsest]);
  let following = 0;
  for (let level = coarsest; level >= 0; level--) {
    const aligned = align(from[level], to[level], motion);
    if (aligned) {
      motion = aligned.motion;
      following = aligned.following;
    } else if (level === 0) return null;
    if (level > 0) motion = rescale(motion, 2);
  }
  return { motion, following };
};

const rescale = (m: Similarity, k: number): Similarity => ({ ...m, dx: m.dx * k, dy: m.dy * k });

/** Tries whole-pixel shifts at the coarsest level and keeps the one with the highest correlation. */
const search = (a: Level, b: Level): Similarity => {
  let best = { dx: 0, dy: 0, score: -Infinity };
  const rx = Math.min(SEARCH_RADIUS, a.width >> 2);
  const ry = Math.min(SEARCH_RADIUS, a.height >> 2);
  for (let dy = -ry; dy <= ry; dy++)
    for (let dx = -rx; dx <= rx; dx++) {
      let ab = 0;
      let aa = 1e-9;
      let bb = 1e-9;
      for (let y = Math.max(0, -dy); y < Math.min(a.height, b.height - dy); y++)
        for (let x = Math.max(0, -dx), i = y * a.width + x, j = (y + dy) * b.width + x + dx; x < Math.min(a.width, b.width - dx); x++, i++, j++) {
          const p = a.samples[i];
          const q = b.samples[j];
          ab += p * q;
          aa += p * p;
          bb += q * q;
        }
      const score = ab / Math.sqrt(aa * bb) - 1e-4 * Math.hypot(dx, dy);
      if (score > best.score) best = { dx, dy, score };
    }
  return { dx: best.dx, dy: best.dy, zoom: 0, turn: 0 };
};

interface Points {
  readonly count: number;
  readonly x: Float32Array;
  readonly y: Float32Array;
  readonly gx: Float32Array;
  readonly gy: Float32Array;
  readonly value: Float32Array;
}

/** The strongest gradient of each cell; about 6 operations per pixel. */
const pickPoints = (level: Level): Points => {
  const { width, height, samples } = level;
  const cell = Math.max(2, Math.round(Math.max(width, height) / POINT_GRID));
  const most = Math.ceil(width / cell) * Math.ceil(height / cell);
  const [x, y, gx, gy, value] = Array.from({ length: 5 }, () => new Float32Array(most));
  let count = 0;
  for (let cy = 2; cy < height - 2; cy += cell)
    for (let cx = 2; cx < width - 2; cx += cell) {
      let strongest = 0;
      let at = -1;
      for (let py = cy; py < Math.min(cy + cell, height - 2); py++)
        for (let px = cx, i = py * width + px; px < Math.min(cx + cell, width - 2); px++, i++) {
          const u = samples[i + 1] - samples[i - 1];
          const v = samples[i + width] - samples[i - width];
          const g = u * u + v * v;
          if (g > strongest) {
            strongest = g;
            at = i;
          }
        }
      if (at < 0) continue;
      x[count] = at % width;
      y[count] = Math.floor(at / width);
      gx[count] = 0.5 * (samples[at + 1] - samples[at - 1]);
      gy[count] = 0.5 * (samples[at + width] - samples[at - width]);
      value[count] = samples[at];
      count++;
    }
  return { count, x, y, gx, gy, value };
};

const align = (a: Level, b: Level, start: Similarity): Registration | null => {
  const points = pickPoints(a);
  if (points.count < LEAST_POINTS) return null;
  const [cx, cy] = [(a.width - 1) / 2, (a.height - 1) / 2];
  const side = Math.max(a.width, a.height) / 2;
  let { dx, dy, zoom, turn } = start;
  const residual = new Float64Array(points.count);
  let following = 0;
  for (let pass = 0; pass < PASSES; pass++) {
    let seen = 0;
    const sizes: number[] = [];
    for (let p = 0; p < points.count; p++) {
      const ux = points.x[p] - cx;
      const uy = points.y[p] - cy;
      const value = sample(b, points.x[p] + dx + zoom * ux - turn * uy, points.y[p] + dy + turn * ux + zoom * uy);
      residual[p] = value - points.value[p];
      if (Number.isNaN(residual[p])) continue;
      seen++;
      // As a displacement: how far the point is from where the motion puts it.
      sizes.push(Math.abs(residual[p]) / Math.hypot(points.gx[p], points.gy[p]));
    }
    if (seen < LEAST_POINTS) return null;
    sizes.sort((m, n) => m - n);
    const reach = REACH * Math.max(0.02, 1.4826 * sizes[Math.floor(sizes.length * 0.4)]);
    const h = new Float64Array(16);
    const g = new Float64Array(4);
    let inside = 0;
    for (let p = 0; p < points.count; p++) {
      const r = residual[p];
      if (Number.isNaN(r)) continue;
      const strength = Math.hypot(points.gx[p], points.gy[p]);
      const u = Math.abs(r) / strength / reach;
      if (u >= 1) continue;
      inside++;
      // Every point counts by how well it fits, not by its contrast.
      const w = (1 - u * u) ** 2 / (strength * strength);
      const ux = (points.x[p] - cx) / side;
      const uy = (points.y[p] - cy) / side;
      const gx = points.gx[p];
      const gy = points.gy[p];
      const j = [gx, gy, gx * ux + gy * uy, gy * ux - gx * uy];
      for (let m = 0; m < 4; m++) {
        g[m] -= w * j[m] * r;
        for (let n = 0; n < 4; n++) h[m * 4 + n] += w * j[m] * j[n];
      }
    }
    if (inside < LEAST_POINTS) return null;
    const step = solveSymmetric(h, g);
    if (!step) return null;
    dx += step[0];
    dy += step[1];
    zoom += step[2] / side;
    turn += step[3] / side;
    following = inside / seen;
    if (Math.hypot(step[0], step[1]) + Math.abs(step[2]) + Math.abs(step[3]) < SETTLED) break;
  }
  return { motion: { dx, dy, zoom, turn }, following };
};

/** Bilinear sample, `NaN` outside. */
const sample = (level: Level, x: number, y: number): number => {
  const ix = Math.floor(x);
  const iy = Math.floor(y);
  if (ix < 0 || iy < 0 || ix >= level.width - 1 || iy >= level.height - 1) return NaN;
  const fx = x - ix;
  const fy = y - iy;
  const i = iy * level.width + ix;
  const s = level.samples;
  const top = s[i] + (s[i + 1] - s[i]) * fx;
  const bottom = s[i + level.width] + (s[i + level.width + 1] - s[i + level.width]) * fx;
  return top + (bottom - top) * fy;
};

/** Where a point of the first picture is found in the second. */
export const carry = (m: Similarity, x: number, y: number, width: number, height: number): { x: number; y: number } => {
  const ux = x - (width - 1) / 2;
  const uy = y - (height - 1) / 2;
  return { x: x + m.dx + m.zoom * ux - m.turn * uy, y: y + m.dy + m.turn * ux + m.zoom * uy };
};
