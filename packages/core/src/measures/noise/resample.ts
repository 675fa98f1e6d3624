import { constantOf } from '../../kernels/kernels.js';

/** Lags of the noise's autocorrelation that are followed, in pixels. */
export const LAGS = 6;
/** Weights of the resampling filter, in samples. */
export const TAPS = constantOf('TAPS');
const RADIUS = TAPS / 2;

const sinc = (x: number): number => (x === 0 ? 1 : Math.sin(Math.PI * x) / (Math.PI * x));

/**
 * Lanczos weights that read a signal `fraction` (0–1) of a pixel after a sample (Duchon 1979).
 * @returns `TAPS` weights for the samples at −2 … +3
 */
export const lanczos = (fraction: number): Float64Array => {
  const taps = new Float64Array(TAPS);
  let sum = 0;
  for (let k = 0; k < TAPS; k++) {
    const d = k - (RADIUS - 1) - fraction;
    taps[k] = Math.abs(d) < RADIUS ? sinc(d) * sinc(d / RADIUS) : 0;
    sum += taps[k];
  }
  for (let k = 0; k < TAPS; k++) taps[k] /= sum;
  return taps;
};

/** Variance of noise after a filter over its variance before; `rho` is the autocorrelation by lag, `rho[0]` = 1. */
export const noiseGain = (taps: Float64Array, rho: ArrayLike<number>): number => {
  let gain = 0;
  for (let i = 0; i < TAPS; i++)
    for (let j = 0; j < TAPS; j++) gain += taps[i] * taps[j] * rho[Math.abs(i - j)];
  return gain;
};

/** Autocovariance at `lag` of noise after a filter, over its variance before. */
export const filteredCovariance = (taps: Float64Array, rho: ArrayLike<number>, lag: number): number => {
  let sum = 0;
  for (let i = 0; i < TAPS; i++)
    for (let j = 0; j < TAPS; j++) {
      const d = Math.abs(lag + i - j);
      sum += taps[i] * taps[j] * (d < rho.length ? rho[d] : 0);
    }
  return sum;
};
