import type { Plane } from '../picture/frame.js';

/** Through a Gaussian, along rows and down columns; the last sample stands for those beyond. */
export const blurred = (
  { width, height, samples }: Pick<Plane, 'width' | 'height'> & { readonly samples: ArrayLike<number> },
  sigma: number,
): Float32Array => {
  const radius = Math.max(1, Math.ceil(3 * sigma));
  const taps = Float64Array.from({ length: 2 * radius + 1 }, (_, i) =>
    Math.exp(-((i - radius) ** 2) / (2 * sigma * sigma)),
  );
  const total = taps.reduce((a, b) => a + b, 0);
  for (let k = 0; k < taps.length; k++) taps[k] /= total;
  const [across, out] = [new Float32Array(samples.length), new Float32Array(samples.length)];
  // A row with what is beyond its ends: no index is held inside the picture within the loops.
  const row = new Float64Array(width + 2 * radius);
  for (let y = 0; y < height; y++) {
    const start = y * width;
    for (let x = -radius; x < width + radius; x++)
      row[x + radius] = samples[start + Math.max(0, Math.min(width - 1, x))];
    for (let x = 0; x < width; x++) {
      let sum = 0;
      for (let k = 0; k < taps.length; k++) sum += taps[k] * row[x + k];
      across[start + x] = sum;
    }
  }
  for (let y = 0; y < height; y++)
    for (let k = -radius; k <= radius; k++) {
      const from = Math.max(0, Math.min(height - 1, y + k)) * width;
      const weight = taps[k + radius];
      for (let x = 0, to = y * width; x < width; x++, to++) out[to] += weight * across[from + x];
    }
  return out;
};
