import { atPlace } from '../../maths/robust.js';

/** Slower than this the light changes; it does not flicker. */
const SLOW_HZ = 0.45;
/** A light that has moved this far (log) within half a second on each side is being faded. */
const FADING = 0.35;
const ROBUST_PASSES = 2;

/**
 * Takes the slow trend out of a light curve by local quadratic regression (Cleveland 1979) over about one period of
 * the slowest flicker.
 * @param light log light, one value a frame; `NaN` where unknown
 * @param faded frames in which the light is being faded: they must not bend the trend of what stands beside them
 * @returns log light about the trend, `NaN` where unknown or faded
 */
export const withoutTrend = (
  light: Float64Array,
  frameRate: number,
  faded: readonly boolean[],
): Float64Array => {
  const near = nearby(frameRate);
  const smooth = (weights: Float64Array): Float64Array =>
    light.map((_, t) => localQuadratic(light, weights, t, near));
  let weights = light.map((v, t) => (Number.isNaN(v) || faded[t] ? 0 : 1));
  let trend = smooth(weights);
  for (let pass = 1; pass < ROBUST_PASSES; pass++) {
    const residual = light.map((v, t) => (weights[t] > 0 ? v - trend[t] : NaN));
    weights = weights.map((w, t) => (w > 0 ? spikeWeight(residual, t) : 0));
    trend = smooth(weights);
  }
  return light.map((v, t) => (faded[t] ? NaN : v - trend[t]));
};

/**
 * Frames in which the light is being faded, with the bend just before and after.
 * @param light of the whole picture: a part of it that is followed badly drifts, and is no fade. Log light, `NaN` where unknown
 */
export const fadedIn = (light: Float64Array, frameRate: number): boolean[] => {
  const weights = light.map((v) => (Number.isNaN(v) ? 0 : 1));
  const near = nearby(frameRate);
  const trend = light.map((_, t) => localQuadratic(light, weights, t, near));
  const half = Math.max(2, Math.round(frameRate / 2));
  const steep = Array.from(
    trend,
    (_, t) => Math.abs(trend[Math.min(trend.length - 1, t + half)] - trend[Math.max(0, t - half)]) > FADING,
  );
  const bend = half >> 1;
  return steep.map((_, t) => steep.slice(Math.max(0, t - bend), t + bend + 1).includes(true));
};

/** A flash must not bend the trend: residuals far outside the rest lose their weight. */
const spikeWeight = (residual: Float64Array, t: number): number => {
  const reach = 12;
  const near: number[] = [];
  for (let k = Math.max(0, t - reach); k <= Math.min(residual.length - 1, t + reach); k++)
    if (!Number.isNaN(residual[k])) near.push(Math.abs(residual[k]));
  const typical = atPlace(Float64Array.from(near), Math.floor(near.length * 0.7)) || 1e-9;
  return Math.abs(residual[t]) > 5 * typical + 0.01 ? 0 : 1;
};

/** Of the neighbours that a trend is smoothed over, from the first to the last: the weight, times each power of the distance. */
interface Near {
  readonly reach: number;
  readonly powers: readonly [Float64Array, Float64Array, Float64Array, Float64Array, Float64Array];
}

/** Tricube weights. */
const nearby = (frameRate: number): Near => {
  const reach = Math.max(4, Math.round((0.75 * frameRate) / SLOW_HZ));
  const power = (p: number): Float64Array =>
    Float64Array.from({ length: 2 * reach + 1 }, (_, i) => {
      const u = (i - reach) / (reach + 1);
      return (1 - Math.abs(u) ** 3) ** 3 * u ** p;
    });
  return { reach, powers: [power(0), power(1), power(2), power(3), power(4)] };
};

const moments = new Float64Array(5);
const sums = new Float64Array(3);

/** Value at `t` of the parabola through the neighbours that count: those whose weight is not 0. */
const localQuadratic = (
  y: Float64Array,
  weights: Float64Array,
  t: number,
  { reach, powers: [p0, p1, p2, p3, p4] }: Near,
): number => {
  moments.fill(0);
  sums.fill(0);
  const last = Math.min(y.length - 1, t + reach);
  for (let k = Math.max(0, t - reach), i = k - t + reach; k <= last; k++, i++) {
    if (weights[k] === 0) continue;
    const v = y[k];
    moments[0] += p0[i];
    moments[1] += p1[i];
    moments[2] += p2[i];
    moments[3] += p3[i];
    moments[4] += p4[i];
    sums[0] += p0[i] * v;
    sums[1] += p1[i] * v;
    sums[2] += p2[i] * v;
  }
  return constantTerm(moments, sums);
};

/** First coefficient of the normal equations of a parabola with moments `s`; falls back to line and mean. */
const constantTerm = (s: Float64Array, b: Float64Array): number => {
  if (s[0] === 0) return 0;
  const det =
    s[0] * (s[2] * s[4] - s[3] * s[3]) -
    s[1] * (s[1] * s[4] - s[3] * s[2]) +
    s[2] * (s[1] * s[3] - s[2] * s[2]);
  if (Math.abs(det) < 1e-9 * s[0] * s[0] * s[0]) return b[0] / s[0];
  return (
    (b[0] * (s[2] * s[4] - s[3] * s[3]) -
      s[1] * (b[1] * s[4] - s[3] * b[2]) +
      s[2] * (b[1] * s[3] - s[2] * b[2])) /
    det
  );
};
