import { ENOUGH } from '../maths/enough.js';
import { atPlace, MAD_TO_SIGMA, median, TUKEY } from '../maths/robust.js';
import { solveSymmetric } from '../maths/solve.js';
import type { Level } from '../picture/pyramid.js';
import { SETTLED, type Registration, type Similarity } from './similarity.js';

const POINT_GRID = 32;
/** How much noise counts against a point's contrast. */
const NOISE_REACH = 2;

/** The points of a picture that are followed into the next one. */
interface Points {
  readonly count: number;
  readonly x: Float64Array;
  readonly y: Float64Array;
  /** Gradient over its own length: which way the picture rises. */
  readonly ux: Float64Array;
  readonly uy: Float64Array;
  /** One over the length of the gradient: pixels for one code. */
  readonly reach: Float64Array;
  readonly value: Float64Array;
  /** Points whose `reach` is at most this are the stronger half: noise moves them least. */
  readonly strongReach: number;
}

/** The strongest gradient of each cell; about 6 operations per pixel. */
const pickPoints = (level: Level): Points => {
  const { width, height, samples } = level;
  const cell = Math.max(2, Math.round(Math.max(width, height) / POINT_GRID));
  const most = Math.ceil(width / cell) * Math.ceil(height / cell);
  const [x, y, ux, uy, reach, value] = Array.from({ length: 6 }, () => new Float64Array(most));
  let count = 0;
  for (let cy = 2; cy < height - 2; cy += cell) {
    const bottom = Math.min(cy + cell, height - 2);
    for (let cx = 2; cx < width - 2; cx += cell) {
      const right = Math.min(cx + cell, width - 2);
      let strongest = 0;
      let at = -1;
      for (let py = cy; py < bottom; py++)
        for (let i = py * width + cx, end = py * width + right; i < end; i++) {
          const u = samples[i + 1] - samples[i - 1];
          const v = samples[i + width] - samples[i - width];
          const g = u * u + v * v;
          if (g > strongest) {
            strongest = g;
            at = i;
          }
        }
      if (at < 0) continue;
      const length = Math.sqrt(strongest);
      x[count] = at % width;
      y[count] = Math.floor(at / width);
      ux[count] = (samples[at + 1] - samples[at - 1]) / length;
      uy[count] = (samples[at + width] - samples[at - width]) / length;
      reach[count] = 2 / length;
      value[count] = samples[at];
      count++;
    }
  }
  return { count, x, y, ux, uy, reach, value, strongReach: median(reach.subarray(0, count)) };
};

/** A registration that was refined on the picture itself. */
export interface Alignment extends Registration {
  /**
   * Standard error at the middle of an edge, pixels: of the shift, the turn and the zoom together. Slopes are taken for the
   * picture's own: where most of them are noise it is several times larger.
   */
  readonly error: number;
  /** How far most points lie from where the motion puts them, pixels: the 0.4 quantile. */
  readonly spread: number;
}

/** Points lie so far off, as noise scatters them, in standard deviations: the 0.4 quantile of what has no sign. */
const SPREAD_SIGMAS = 0.524;

/** Gauss–Newton steps from `start`; a point counts by how well it fits and how far it stands above the noise. */
export const align = (a: Level, b: Level, start: Similarity, passes: number): Alignment | null => {
  const points = pickPoints(a);
  if (points.count < ENOUGH) return null;
  const [cx, cy] = [(a.width - 1) / 2, (a.height - 1) / 2];
  const side = Math.max(a.width, a.height) / 2;
  const offsets = new Float64Array(points.count);
  const sizes = new Float64Array(points.count);
  const noises = new Float64Array(points.count);
  const normal = new Float64Array(16);
  const right = new Float64Array(4);
  let motion = start;
  let following = 0;
  let spread = 0;
  for (let pass = 0; pass < passes; pass++) {
    const seen = measureOffsets(points, b, motion, cx, cy, offsets, sizes, noises);
    if (seen.strong < ENOUGH) return null;
    spread = atPlace(sizes.subarray(0, seen.strong), Math.floor(seen.strong * 0.4));
    const noise = seen.weak > 0 ? MAD_TO_SIGMA * atPlace(noises.subarray(0, seen.weak), seen.weak >> 1) : 0;
    const inside = normalEquations(
      points,
      offsets,
      TUKEY * Math.max(0.02, MAD_TO_SIGMA * spread),
      noise,
      cx,
      cy,
      side,
      normal,
      right,
    );
    if (inside < ENOUGH) return null;
    const step = solveSymmetric(toSolve(normal), right);
    if (!step) return null;
    motion = {
      dx: motion.dx + step[0],
      dy: motion.dy + step[1],
      zoom: motion.zoom + step[2] / side,
      turn: motion.turn + step[3] / side,
    };
    following = inside / seen.strong;
    if (Math.abs(step[0]) + Math.abs(step[1]) + Math.abs(step[2]) + Math.abs(step[3]) < SETTLED) break;
  }
  const error = (spread / SPREAD_SIGMAS) * Math.sqrt(traceOfInverse(normal));
  return { motion, following, spread, error };
};

const solving = new Float64Array(16);
/** A copy that may be destroyed. */
const toSolve = (normal: Float64Array): Float64Array => {
  solving.set(normal);
  return solving;
};

/** Sum of what four numbers that are fitted together scatter by, in squares of what each point does. */
const traceOfInverse = (normal: Float64Array): number =>
  [0, 1, 2, 3].reduce((sum, k) => {
    const unit = Float64Array.from({ length: 4 }, (_, i) => (i === k ? 1 : 0));
    return sum + (solveSymmetric(toSolve(normal), unit)?.[k] ?? Infinity);
  }, 0);

/**
 * How far each point lies, along its gradient, from where the motion puts it; `NaN` outside.
 * @param sizes receives the distances of the strong points, pixels
 * @param noises receives the differences of the weak points, codes: mostly noise
 * @returns how many of each are inside
 */
const measureOffsets = (
  points: Points,
  b: Level,
  m: Similarity,
  cx: number,
  cy: number,
  offsets: Float64Array,
  sizes: Float64Array,
  noises: Float64Array,
): { strong: number; weak: number } => {
  const { count, x, y, reach, value, strongReach } = points;
  const { width, height, samples } = b;
  const { dx, dy, zoom, turn } = m;
  let strong = 0;
  let weak = 0;
  for (let p = 0; p < count; p++) {
    const ux = x[p] - cx;
    const uy = y[p] - cy;
    const px = x[p] + dx + zoom * ux - turn * uy;
    const py = y[p] + dy + turn * ux + zoom * uy;
    const ix = Math.floor(px);
    const iy = Math.floor(py);
    if (!(ix >= 0 && iy >= 0 && ix < width - 1 && iy < height - 1)) {
      offsets[p] = NaN;
      continue;
    }
    // Bilinear, here and not in a function of its own: numbers that are handed back cost more than they.
    const i = iy * width + ix;
    const fx = px - ix;
    const top = samples[i] + (samples[i + 1] - samples[i]) * fx;
    const j = i + width;
    const bottom = samples[j] + (samples[j + 1] - samples[j]) * fx;
    const difference = top + (bottom - top) * (py - iy) - value[p];
    const offset = difference * reach[p];
    offsets[p] = offset;
    if (reach[p] <= strongReach) sizes[strong++] = Math.abs(offset);
    else noises[weak++] = Math.abs(difference);
  }
  return { strong, weak };
};

/** Sums up the weighted normal equations of one step; returns how many strong points play a part. */
const normalEquations = (
  points: Points,
  offsets: Float64Array,
  reach: number,
  noise: number,
  cx: number,
  cy: number,
  side: number,
  h: Float64Array,
  g: Float64Array,
): number => {
  h.fill(0);
  g.fill(0);
  let inside = 0;
  for (let p = 0; p < points.count; p++) {
    const r = offsets[p];
    const u = Math.abs(r) / reach;
    if (!(u < 1)) continue;
    if (points.reach[p] <= points.strongReach) inside++;
    // What noise alone would move a point by takes from its weight.
    const unsure = NOISE_REACH * noise * points.reach[p];
    const w = ((1 - u * u) * (1 - u * u)) / (1 + unsure * unsure);
    const x = (points.x[p] - cx) / side;
    const y = (points.y[p] - cy) / side;
    const j0 = points.ux[p];
    const j1 = points.uy[p];
    const j2 = j0 * x + j1 * y;
    const j3 = j1 * x - j0 * y;
    const wr = w * r;
    g[0] -= wr * j0;
    g[1] -= wr * j1;
    g[2] -= wr * j2;
    g[3] -= wr * j3;
    h[0] += w * j0 * j0;
    h[4] += w * j1 * j0;
    h[5] += w * j1 * j1;
    h[8] += w * j2 * j0;
    h[9] += w * j2 * j1;
    h[10] += w * j2 * j2;
    h[12] += w * j3 * j0;
    h[13] += w * j3 * j1;
    h[14] += w * j3 * j2;
    h[15] += w * j3 * j3;
  }
  return inside;
};
