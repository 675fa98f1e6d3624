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

/** Weights of the neighbours that a trend is smoothed over. */
const nearby = (frameRate: number): Float64Array =>
  tricube(Math.max(4, Math.round((0.75 * frameRate) / SLOW_HZ)));

/** Tricube weights of the neighbours, from the middle outward. */
const tricube = (reach: number): Float64Array =>
  Float64Array.from({ length: reach + 1 }, (_, k) => (1 - (k / (reach + 1)) ** 3) ** 3);

/** Value at `t` of the weighted parabola through the neighbours. */
const localQuadratic = (y: Float64Array, weights: Float64Array, t: number, near: Float64Array): number => {
  const reach = near.length - 1;
  const s = new Float64Array(5);
  const b = new Float64Array(3);
  for (let k = Math.max(0, t - reach); k <= Math.min(y.length - 1, t + reach); k++) {
    if (weights[k] === 0) continue;
    const u = (k - t) / (reach + 1);
    const w = weights[k] * near[Math.abs(k - t)];
    const wu = w * u;
    const wuu = wu * u;
    s[0] += w;
    s[1] += wu;
    s[2] += wuu;
    s[3] += wuu * u;
    s[4] += wuu * u * u;
    b[0] += w * y[k];
    b[1] += wu * y[k];
    b[2] += wuu * y[k];
  }
  return constantTerm(s, b);
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
