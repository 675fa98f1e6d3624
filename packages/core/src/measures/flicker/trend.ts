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
  let weights = light.map((v, t) => (Number.isNaN(v) || faded[t] ? 0 : 1));
  let trend = smoothed(light, weights, near);
  for (let pass = 1; pass < ROBUST_PASSES; pass++) {
    const residual = light.map((v, t) => (weights[t] > 0 ? v - trend[t] : NaN));
    weights = weights.map((w, t) => (w > 0 ? spikeWeight(residual, t) : 0));
    trend = smoothed(light, weights, near);
  }
  return light.map((v, t) => (faded[t] ? NaN : v - trend[t]));
};

/**
 * Frames in which the light is being faded, with the bend just before and after.
 * @param light of the whole picture: a part of it that is followed badly drifts, and is no fade. Log light, `NaN` where unknown
 */
export const fadedIn = (light: Float64Array, frameRate: number): boolean[] => {
  const weights = light.map((v) => (Number.isNaN(v) ? 0 : 1));
  const trend = smoothed(light, weights, nearby(frameRate));
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

/** The trend at each frame: value of the parabola through the neighbours that count, those whose weight is not 0. */
const smoothed = (y: Float64Array, weights: Float64Array, near: Near): Float64Array => {
  const { reach, powers } = near;
  const [p0, p1, p2] = powers;
  const out = new Float64Array(y.length);
  // Where all neighbours count, as mostly, their moments are the same in every frame.
  const whole = powers.map((p) => p.reduce((sum, v) => sum + v, 0));
  let missing = 0;
  for (let k = 0; k < Math.min(reach, y.length); k++) if (weights[k] === 0) missing++;
  for (let t = 0; t < y.length; t++) {
    if (t + reach < y.length && weights[t + reach] === 0) missing++;
    if (t > reach && weights[t - reach - 1] === 0) missing--;
    if (missing > 0 || t < reach || t + reach >= y.length) {
      out[t] = localQuadratic(y, weights, t, near);
      continue;
    }
    let [b0, b1, b2] = [0, 0, 0];
    for (let i = 0, k = t - reach; i <= 2 * reach; i++, k++) {
      const v = y[k];
      b0 += p0[i] * v;
      b1 += p1[i] * v;
      b2 += p2[i] * v;
    }
    out[t] = constantTerm(whole[0], whole[1], whole[2], whole[3], whole[4], b0, b1, b2);
  }
  return out;
};

const localQuadratic = (
  y: Float64Array,
  weights: Float64Array,
  t: number,
  { reach, powers: [p0, p1, p2, p3, p4] }: Near,
): number => {
  let [s0, s1, s2, s3, s4, b0, b1, b2] = [0, 0, 0, 0, 0, 0, 0, 0];
  const last = Math.min(y.length - 1, t + reach);
  for (let k = Math.max(0, t - reach), i = k - t + reach; k <= last; k++, i++) {
    if (weights[k] === 0) continue;
    const v = y[k];
    s0 += p0[i];
    s1 += p1[i];
    s2 += p2[i];
    s3 += p3[i];
    s4 += p4[i];
    b0 += p0[i] * v;
    b1 += p1[i] * v;
    b2 += p2[i] * v;
  }
  return constantTerm(s0, s1, s2, s3, s4, b0, b1, b2);
};

/** First coefficient of the normal equations of a parabola with moments `s0` to `s4`; falls back to line and mean. */
const constantTerm = (
  s0: number,
  s1: number,
  s2: number,
  s3: number,
  s4: number,
  b0: number,
  b1: number,
  b2: number,
): number => {
  if (s0 === 0) return 0;
  const det = s0 * (s2 * s4 - s3 * s3) - s1 * (s1 * s4 - s3 * s2) + s2 * (s1 * s3 - s2 * s2);
  if (Math.abs(det) < 1e-9 * s0 * s0 * s0) return b0 / s0;
  return (b0 * (s2 * s4 - s3 * s3) - s1 * (b1 * s4 - s3 * b2) + s2 * (b1 * s3 - s2 * b2)) / det;
};
