import { solveSymmetric } from '../../maths/solve.js';

/** An edge of the picture, as a step seen through a Gaussian. */
export interface EdgeFit {
  /** Standard deviation of the Gaussian, pixels: lens, focus and pixel together. */
  readonly sigmaPx: number;
  /** How well that is known, pixels. */
  readonly errorPx: number;
  /** Height of the step, in the unit of the samples. */
  readonly height: number;
}

/** How far to each side along the edge is looked. */
const ALONG = 3;
/** Half lengths across the edge that are tried, shortest first: a window must hold the step and little else. */
const REACHES = [4, 6, 9, 13];
const STEPS = 14;
/** A window holds a step when it reaches this many sigmas to each side. */
const HOLDS = 3;
/** What a step leaves unexplained, over its half height. */
const MOST_LEFT = 0.16;
/** A step may lie this far off the place where it was looked for, pixels. */
const MOST_OFF = 1.6;
/** Slope of the sides over the length of the window, over the half height. */
const MOST_SLOPE = 0.9;
const PARAMETERS = 6;

/** The cumulative normal distribution at steps of 1/64, from −5 on. */
const NORMAL = (() => {
  const table = new Float64Array(642);
  let sum = 0;
  for (let i = 0; i < table.length; i++) {
    table[i] = sum;
    const x = -5 + (i + 0.5) / 64;
    sum += Math.exp(-x * x * 0.5) / Math.sqrt(2 * Math.PI) / 64;
  }
  return table;
})();
const cumulative = (x: number): number => {
  if (x <= -5) return 0;
  if (x >= 5) return 1;
  const p = (x + 5) * 64;
  const i = p | 0;
  return NORMAL[i] + (NORMAL[i + 1] - NORMAL[i]) * (p - i);
};
/** Its slope there: exact enough for derivatives. */
const DENSITY = NORMAL.map((_, i) => Math.exp(-0.5 * (i / 64 - 5) ** 2) / Math.sqrt(2 * Math.PI));
const density = (x: number): number => {
  if (x <= -5 || x >= 5) return 0;
  const p = (x + 5) * 64;
  const i = p | 0;
  return DENSITY[i] + (DENSITY[i + 1] - DENSITY[i]) * (p - i);
};

const normal = new Float64Array(PARAMETERS * PARAMETERS);
const right = new Float64Array(PARAMETERS);
/** Those about the parameters that are kept, while others are tried. */
const keptNormal = new Float64Array(PARAMETERS * PARAMETERS);
const keptRight = new Float64Array(PARAMETERS);
const keep = (): void => {
  keptNormal.set(normal);
  keptRight.set(right);
};
const MOST_SAMPLES = (2 * 13 + 1) * (2 * ALONG + 1) * 4;
const across = new Float64Array(MOST_SAMPLES);
const along = new Float64Array(MOST_SAMPLES);
const value = new Float64Array(MOST_SAMPLES);

/**
 * Fits a step through a Gaussian to the pixels about a place: level, slope, height, place, tilt and width, by
 * Levenberg–Marquardt, in the shortest window that holds it. Every pixel counts where it lies, so a slanted edge is
 * sampled more finely than the pixels are.
 * @param read sample at a place, a linear quantity
 * @param ux, uy direction across the edge, of length 1, from dark to bright
 * @returns `null` where no single step stands
 * @see ISO 12233, the slanted-edge method, for the idea
 */
export const fitEdge = (
  read: (x: number, y: number) => number,
  x: number,
  y: number,
  ux: number,
  uy: number,
): EdgeFit | null => {
  const place: Across = { read, x, y, ux, uy };
  let least = 0;
  for (const reach of REACHES) {
    if (reach < least) continue;
    const fit = fitIn(reach, place);
    if (fit === 'no step') return null;
    if (typeof fit === 'object') return staysOff(fit, reach, place) ? fit : null;
    // A step too wide for this window tells about how wide a window it needs.
    least = Math.min(REACHES[REACHES.length - 1], 0.8 * HOLDS * fit);
  }
  return null;
};

/** A place of the picture, and the direction across the edge that is looked for there. */
interface Across {
  readonly read: (x: number, y: number) => number;
  readonly x: number;
  readonly y: number;
  readonly ux: number;
  readonly uy: number;
}

const collect = (reach: number, { read, x, y, ux, uy }: Across): number => {
  let n = 0;
  const box = Math.ceil(reach * Math.max(Math.abs(ux), Math.abs(uy)) + ALONG);
  for (let v = -box; v <= box; v++)
    for (let u = -box; u <= box; u++) {
      const a = u * ux + v * uy;
      const b = v * ux - u * uy;
      if (Math.abs(a) > reach || Math.abs(b) > ALONG + 0.5 || n >= MOST_SAMPLES) continue;
      across[n] = a;
      along[n] = b;
      value[n] = read(x + u, y + v);
      n++;
    }
  return n;
};

/** Beyond the window, as far as this many times its reach, … */
const BEYOND = 1.75;
/** … neither side comes back by more than this share of the height: the flank of a line is narrower than an edge. */
const MOST_BACK = 0.25;

const staysOff = (
  { height, level, slope }: Fitted,
  reach: number,
  { read, x, y, ux, uy }: Across,
): boolean => {
  const far = Math.round(BEYOND * reach);
  for (const side of [-1, 1]) {
    let [sum, n] = [0, 0];
    for (let a = Math.ceil(reach); a <= far; a++)
      for (const b of [-2, 0, 2]) {
        sum += read(Math.round(x + side * a * ux - b * uy), Math.round(y + side * a * uy + b * ux));
        n++;
      }
    const back = side * (level + (side * height) / 2 + side * slope * reach - sum / n);
    if (back > MOST_BACK * height) return false;
  }
  return true;
};

interface Fitted extends EdgeFit {
  readonly level: number;
  readonly slope: number;
}

const fitIn = (reach: number, place: Across): Fitted | 'no step' | number => {
  const n = collect(reach, place);
  let [low, high, lows, highs] = [0, 0, 0, 0];
  for (let i = 0; i < n; i++)
    if (across[i] < -reach / 2) {
      low += value[i];
      lows++;
    } else if (across[i] > reach / 2) {
      high += value[i];
      highs++;
    }
  if (lows < 3 || highs < 3) return 'no step';
  const half = (high / highs - low / lows) / 2;
  if (!(half > 0)) return 'no step';
  // Level, slope, half height, place, tilt, log of the width.
  const p = new Float64Array([(high / highs + low / lows) / 2, 0, half, 0, 0, Math.log(reach / 4)]);
  const error = descend(p, n, reach);
  if (error === null) return 'no step';
  const sigma = Math.exp(p[5]);
  if (sigma * HOLDS > reach) return sigma;
  const left = Math.sqrt(error / n);
  if (
    p[2] <= 0 ||
    left > MOST_LEFT * p[2] ||
    Math.abs(p[3]) > MOST_OFF ||
    Math.abs(p[4]) > 0.35 ||
    Math.abs(p[1]) * reach > MOST_SLOPE * p[2]
  )
    return 'no step';
  // The variance of the width: the last entry of the inverse of the normal matrix.
  const unit = new Float64Array(PARAMETERS);
  unit[5] = 1;
  const inverse = solveSymmetric(keptNormal.slice(), unit);
  const errorPx = inverse ? sigma * left * Math.sqrt(Math.max(0, inverse[5])) : Infinity;
  return { sigmaPx: sigma, errorPx, height: 2 * p[2], level: p[0], slope: p[1] };
};

/**
 * Fits the parameters to the samples that were collected (Levenberg 1944, Marquardt 1963); leaves the normal equations about
 * them in what is kept.
 * @returns what is left, the sum of its squares; `null` where no step can be fitted
 */
const descend = (p: Float64Array, n: number, reach: number): number | null => {
  let lambda = 1e-2;
  let error = build(p, n);
  keep();
  for (let step = 0; step < STEPS; step++) {
    const damped = keptNormal.slice();
    for (let k = 0; k < PARAMETERS; k++) damped[k * PARAMETERS + k] *= 1 + lambda;
    const change = solveSymmetric(damped, keptRight);
    if (!change) return null;
    const next = p.map((v, k) => v + change[k]);
    next[5] = Math.max(Math.log(0.12), Math.min(Math.log(reach * 1.5), next[5]));
    const nextError = build(next, n);
    if (nextError <= error) {
      const settled = error - nextError < 1e-5 * error;
      p.set(next);
      keep();
      error = nextError;
      lambda = Math.max(1e-6, lambda / 5);
      if (settled) break;
    } else {
      lambda *= 6;
      if (lambda > 1e4) break;
    }
  }
  return error;
};

/** Builds the normal equations about the parameters; returns the sum of squares. About 40 operations for each sample. */
const build = (p: Float64Array, n: number): number => {
  const [level, slope, half, place, tilt] = p;
  const sigma = Math.exp(p[5]);
  let error = 0;
  // Sums of products of the derivatives by level (1), slope (x), half height (s), place (d), tilt (t) and width (w).
  let [x1, xx, s1, sx, ss, d1, dx, ds, dd] = [0, 0, 0, 0, 0, 0, 0, 0, 0];
  let [t1, tx, ts, td, tt, w1, wx, ws, wd, wt, ww] = [0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0];
  let [r1, rx, rs, rd, rt, rw] = [0, 0, 0, 0, 0, 0];
  for (let i = 0; i < n; i++) {
    const x = across[i];
    const z = (x - place - tilt * along[i]) / sigma;
    const step = 2 * cumulative(z) - 1;
    const bell = 2 * half * density(z);
    const r = value[i] - (level + slope * x + half * step);
    const d = -bell / sigma;
    const t = d * along[i];
    const w = -bell * z;
    error += r * r;
    x1 += x;
    xx += x * x;
    s1 += step;
    sx += step * x;
    ss += step * step;
    d1 += d;
    dx += d * x;
    ds += d * step;
    dd += d * d;
    t1 += t;
    tx += t * x;
    ts += t * step;
    td += t * d;
    tt += t * t;
    w1 += w;
    wx += w * x;
    ws += w * step;
    wd += w * d;
    wt += w * t;
    ww += w * w;
    r1 += r;
    rx += r * x;
    rs += r * step;
    rd += r * d;
    rt += r * t;
    rw += r * w;
  }
  normal.fill(0);
  const lower = [
    [n],
    [x1, xx],
    [s1, sx, ss],
    [d1, dx, ds, dd],
    [t1, tx, ts, td, tt],
    [w1, wx, ws, wd, wt, ww],
  ];
  lower.forEach((row, k) => normal.set(row, k * PARAMETERS));
  right.set([r1, rx, rs, rd, rt, rw]);
  return error;
};
