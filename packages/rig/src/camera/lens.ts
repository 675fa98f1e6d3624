/**
 * Spreads every point as a lens with this blur does: a separable Gaussian, in linear light.
 * @param light interleaved RGB, `width × height × 3`; changed in place
 * @param sigmaPx standard deviation in pixels; 0 for a perfect lens
 */
export const throughLens = (light: Float32Array, width: number, height: number, sigmaPx: number): void => {
  if (sigmaPx <= 0) return;
  const radius = Math.max(1, Math.ceil(3 * sigmaPx));
  const taps = Float64Array.from({ length: 2 * radius + 1 }, (_, i) => Math.exp(-((i - radius) ** 2) / (2 * sigmaPx * sigmaPx)));
  const total = taps.reduce((s, t) => s + t, 0);
  for (let i = 0; i < taps.length; i++) taps[i] /= total;
  const line = new Float32Array(Math.max(width, height) * 3);
  for (let y = 0; y < height; y++) blurLine(light, y * width * 3, 3, width, taps, radius, line);
  for (let x = 0; x < width; x++) blurLine(light, x * 3, width * 3, height, taps, radius, line);
};

const blurLine = (light: Float32Array, start: number, stride: number, count: number, taps: Float64Array, radius: number, line: Float32Array): void => {
  for (let i = 0, o = start; i < count; i++, o += stride) {
    line[3 * i] = light[o];
    line[3 * i + 1] = light[o + 1];
    line[3 * i + 2] = light[o + 2];
  }
  for (let i = 0, o = start; i < count; i++, o += stride) {
    let [r, g, b] = [0, 0, 0];
    for (let k = -radius; k <= radius; k++) {
      const j = 3 * Math.min(count - 1, Math.max(0, i + k));
      const w = taps[k + radius];
      r += w * line[j];
      g += w * line[j + 1];
      b += w * line[j + 2];
    }
    light[o] = r;
    light[o + 1] = g;
    light[o + 2] = b;
  }
};
