import { solveBanded } from './solve.js';

/** Near its ends a course has neighbours on one side only and would follow every swing: it is made so much stiffer there, */
const END_STIFFNESS = 30;
/** over this share of a period of the cut. */
const END_PERIODS = 0.15;

/**
 * Splits a path into its slow course and the rest: the Whittaker–Henderson smoother of third order, whose gain at
 * frequency f is 1 / (1 + (sin πf/fs ÷ sin πfc/fs)⁶): half at `cutHz`, flat below, and true to a cubic at the ends.
 * Samples that are `NaN` play no part; the course goes on through them.
 * @param rate samples a second
 * @returns the slow course, one value for each sample
 * @see Eilers 2003, "A perfect smoother"
 */
export const slowCourse = (values: ArrayLike<number>, rate: number, cutHz: number): Float64Array => {
  const n = values.length;
  const order = Math.min(3, n - 1);
  const out = new Float64Array(n);
  if (order < 1) {
    for (let i = 0; i < n; i++) out[i] = values[i];
    return out;
  }
  const stiffness = (2 * Math.sin((Math.PI * Math.min(cutHz, rate / 2)) / rate)) ** (-2 * order);
  const difference = DIFFERENCES[order];
  // Band matrix W + stiffness · DᵀD, stored by diagonals.
  const bands = Array.from({ length: order + 1 }, () => new Float64Array(n));
  for (let i = 0; i < n; i++) {
    const known = !Number.isNaN(values[i]);
    bands[0][i] = known ? 1 : 1e-9;
    out[i] = known ? values[i] : 0;
  }
  for (let r = 0; r + order < n; r++) {
    const middle = r + order / 2;
    const fromEnd = (Math.min(middle, n - 1 - middle) * cutHz) / rate;
    const stiff = stiffness * (1 + END_STIFFNESS * Math.exp(-fromEnd / END_PERIODS));
    for (let a = 0; a <= order; a++)
      for (let b = 0; b <= a; b++) bands[a - b][r + a] += stiff * difference[a] * difference[b];
  }
  solveBanded(bands, [out]);
  return out;
};

/** Share of a swing of a frequency that {@link slowCourse} takes far from its ends, 0–1. @param rate samples a second */
export const slowGain = (hz: number, rate: number, cutHz: number): number => {
  const [swing, cut] = [hz, cutHz].map((f) => Math.sin((Math.PI * f) / rate));
  return 1 / (1 + (swing / cut) ** 6);
};

const DIFFERENCES = [[1], [-1, 1], [1, -2, 1], [-1, 3, -3, 1]];
