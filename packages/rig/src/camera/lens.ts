import type { KernelMemory } from '@bevrin/core';
import type { Loops, Room } from './loops.js';

/** Standard deviations on each side that a Gaussian is followed to. */
const REACHES = 3;

/** Weights of a Gaussian that sum to 1, from the far side over the middle to the other. */
export const gaussianTaps = (sigmaPx: number): Float32Array => {
  const radius = Math.max(1, Math.ceil(REACHES * sigmaPx));
  const taps = Float64Array.from({ length: 2 * radius + 1 }, (_, i) =>
    Math.exp(-((i - radius) ** 2) / (2 * sigmaPx * sigmaPx)),
  );
  const total = taps.reduce((s, t) => s + t, 0);
  return Float32Array.from(taps, (t) => t / total);
};

/** How a lens spreads a point: as a Gaussian, evenly as one that is out of focus, or with a sharp core in a wide veil. */
export type LensShape = 'gaussian' | 'defocus' | 'veil';

/** Of a lens with a veil: the share of the light that it takes, and how much wider it is than the core. */
const VEIL_SHARE = 0.2;
const VEIL_WIDER = 2.5;

/** Weights along one direction that sum to 1. @param sigmaPx standard deviation; of the core where there is a veil */
export const lensTaps = (shape: LensShape, sigmaPx: number): Float32Array => {
  if (shape === 'gaussian') return gaussianTaps(sigmaPx);
  if (shape === 'defocus') return evenTaps(sigmaPx * Math.sqrt(12));
  const [core, veil] = [gaussianTaps(sigmaPx), gaussianTaps(VEIL_WIDER * sigmaPx)];
  const before = (veil.length - core.length) >> 1;
  return veil.map((v, i) => VEIL_SHARE * v + (1 - VEIL_SHARE) * (core[i - before] ?? 0));
};

/** Even weights over a width in pixels; the outermost count as far as they are covered. */
const evenTaps = (width: number): Float32Array => {
  const radius = Math.max(1, Math.ceil(width / 2 - 0.5));
  const covered = Float32Array.from({ length: 2 * radius + 1 }, (_, i) =>
    Math.max(0, Math.min(1, width / 2 + 0.5 - Math.abs(i - radius))),
  );
  const total = covered.reduce((sum, share) => sum + share, 0);
  return covered.map((share) => share / total);
};

/** Standard deviation, pixels, of the Gaussian that keeps half of the contrast where a lens does. */
export const equivalentSigmaPx = (shape: LensShape, sigmaPx: number): number => {
  const taps = lensTaps(shape, sigmaPx);
  const middle = taps.length >> 1;
  const kept = (frequency: number): number =>
    taps.reduce((sum, t, i) => sum + t * Math.cos(2 * Math.PI * frequency * (i - middle)), 0);
  let [low, high] = [0, 0.5];
  if (kept(high) > 0.5) return sigmaPx;
  for (let step = 0; step < 40; step++) {
    const at = (low + high) / 2;
    if (kept(at) > 0.5) low = at;
    else high = at;
  }
  return Math.sqrt(Math.LN2 / 2) / (Math.PI * low);
};

/** Most weights of one blur: a standard deviation of some twenty pixels. */
export const MOST_TAPS = 128;

/**
 * Spreads every point as a lens with this blur does: the same along rows and down columns, in linear light.
 * @param light interleaved RGB, `width × height × 3`; changed in place
 * @param across room for as much, and `taps` for the weights
 * @param sigmaPx standard deviation in pixels; 0 for a perfect lens
 */
export const throughLens = (
  { run }: KernelMemory<Loops>,
  light: Room,
  across: Room,
  taps: Room,
  width: number,
  height: number,
  sigmaPx: number,
  shape: LensShape = 'gaussian',
): void => {
  if (sigmaPx <= 0) return;
  const weights = lensTaps(shape, sigmaPx);
  if (weights.length > MOST_TAPS) throw new RangeError(`a blur of ${sigmaPx} px is too wide for the rig`);
  taps.floats.set(weights);
  const radius = weights.length >> 1;
  run.blurAcross(light.at, across.at, width, height, taps.at, radius);
  run.blurDown(across.at, light.at, width, height, taps.at, radius);
};
