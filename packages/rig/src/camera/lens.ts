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

/** Most weights of one blur: a standard deviation of some twenty pixels. */
export const MOST_TAPS = 128;

/**
 * Spreads every point as a lens with this blur does: a separable Gaussian, in linear light.
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
): void => {
  if (sigmaPx <= 0) return;
  const weights = gaussianTaps(sigmaPx);
  if (weights.length > MOST_TAPS) throw new RangeError(`a blur of ${sigmaPx} px is too wide for the rig`);
  taps.floats.set(weights);
  const radius = weights.length >> 1;
  run.blurAcross(light.at, across.at, width, height, taps.at, radius);
  run.blurDown(across.at, light.at, width, height, taps.at, radius);
};
