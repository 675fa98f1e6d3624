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
  const [across, out] = [new Float32Array(samples.length), new Float32Array(samples.length)];
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      let sum = 0;
      for (let k = -radius; k <= radius; k++)
        sum += taps[k + radius] * samples[y * width + Math.max(0, Math.min(width - 1, x + k))];
      across[y * width + x] = sum / total;
    }
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      let sum = 0;
      for (let k = -radius; k <= radius; k++)
        sum += taps[k + radius] * across[Math.max(0, Math.min(height - 1, y + k)) * width + x];
      out[y * width + x] = sum / total;
    }
  return out;
};
