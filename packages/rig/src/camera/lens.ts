/**
 * Spreads every point as a lens with this blur does: a separable Gaussian, in linear light.
 * @param light interleaved RGB, `width × height × 3`; changed in place
 * @param sigmaPx standard deviation in pixels; 0 for a perfect lens
 */
export const throughLens = (light: Float32Array, width: number, height: number, sigmaPx: number): void => {
  if (sigmaPx <= 0) return;
  const radius = Math.max(1, Math.ceil(3 * sigmaPx));
  const taps = Float64Array.from({ length: 2 * radius + 1 }, (_, i) =>
    Math.exp(-((i - radius) ** 2) / (2 * sigmaPx * sigmaPx)),
  );
  const total = taps.reduce((s, t) => s + t, 0);
  for (let i = 0; i < taps.length; i++) taps[i] /= total;
  const across = new Float32Array(light.length);
  const stride = width * 3;
  for (let y = 0; y < height; y++) blurRow(light, across, y * stride, width, taps, radius);
  light.fill(0);
  for (let y = 0; y < height; y++)
    for (let k = -radius; k <= radius; k++)
      addScaled(
        across,
        Math.min(height - 1, Math.max(0, y + k)) * stride,
        taps[k + radius],
        light,
        y * stride,
        stride,
      );
};

const blurRow = (
  from: Float32Array,
  to: Float32Array,
  start: number,
  width: number,
  taps: Float64Array,
  radius: number,
): void => {
  for (let k = -radius; k <= radius; k++) {
    const first = Math.max(0, -k);
    const last = Math.min(width, width - k);
    addScaled(from, start + 3 * (first + k), taps[k + radius], to, start + 3 * first, 3 * (last - first));
    // The edge goes on beyond the picture.
    for (let x = 0; x < first; x++) addScaled(from, start, taps[k + radius], to, start + 3 * x, 3);
    for (let x = last; x < width; x++)
      addScaled(from, start + 3 * (width - 1), taps[k + radius], to, start + 3 * x, 3);
  }
};

const addScaled = (
  from: Float32Array,
  at: number,
  weight: number,
  to: Float32Array,
  start: number,
  count: number,
): void => {
  for (let i = 0; i < count; i++) to[start + i] += weight * from[at + i];
};
