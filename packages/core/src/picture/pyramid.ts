import type { Plane } from './frame.js';

/** One level of a pyramid: float samples, row by row. */
export interface Level {
  readonly width: number;
  readonly height: number;
  readonly samples: Float32Array;
}

const SMALLEST_SIDE = 24;

/** Area-averages 2×2 pixels into one; an odd last row or column is dropped. 5 operations per input pixel. */
export const halve = (plane: { width: number; height: number; samples: ArrayLike<number> }): Level => {
  const width = plane.width >> 1;
  const height = plane.height >> 1;
  const samples = new Float32Array(width * height);
  const from = plane.samples;
  for (let y = 0, o = 0; y < height; y++) {
    let i = 2 * y * plane.width;
    let j = i + plane.width;
    for (let x = 0; x < width; x++, i += 2, j += 2, o++) samples[o] = 0.25 * (from[i] + from[i + 1] + from[j] + from[j + 1]);
  }
  return { width, height, samples };
};

/** Levels from `base` down, each half the size of the one before, until a side would fall below 24 pixels. */
export const pyramid = (base: Level): Level[] => {
  const levels = [base];
  for (;;) {
    const last = levels[levels.length - 1];
    if (Math.min(last.width, last.height) < 2 * SMALLEST_SIDE) return levels;
    levels.push(halve(last));
  }
};

export const asLevel = (plane: Plane): Level => ({
  width: plane.width,
  height: plane.height,
  samples: Float32Array.from(plane.samples),
});

/**
 * Takes away the local mean (a box of `2·radius+1` pixels a side), so that light which changes slowly across the
 * picture plays no part. Separable running sums: about 8 operations per pixel, whatever the radius.
 */
export const withoutLocalMean = (level: Level, radius: number): Level => {
  const { width, height, samples } = level;
  const rows = new Float32Array(samples.length);
  for (let y = 0; y < height; y++) {
    const r = y * width;
    let sum = 0;
    for (let x = 0; x <= Math.min(radius, width - 1); x++) sum += samples[r + x];
    for (let x = 0; x < width; x++) {
      const low = Math.max(0, x - radius);
      const high = Math.min(width - 1, x + radius);
      rows[r + x] = sum / (high - low + 1);
      if (x + radius + 1 < width) sum += samples[r + x + radius + 1];
      if (x - radius >= 0) sum -= samples[r + x - radius];
    }
  }
  const out = new Float32Array(samples.length);
  const sums = new Float64Array(width);
  for (let y = 0; y <= Math.min(radius, height - 1); y++) for (let x = 0; x < width; x++) sums[x] += rows[y * width + x];
  for (let y = 0; y < height; y++) {
    const count = Math.min(height - 1, y + radius) - Math.max(0, y - radius) + 1;
    const enter = (y + radius + 1) * width;
    const leave = (y - radius) * width;
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      out[i] = samples[i] - sums[x] / count;
      if (y + radius + 1 < height) sums[x] += rows[enter + x];
      if (y - radius >= 0) sums[x] -= rows[leave + x];
    }
  }
  return { width, height, samples: out };
};
