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
  const rows = new Int32Array(taps.length);
  for (let y = 0; y < height; y++) {
    for (let k = -radius; k <= radius; k++)
      rows[k + radius] = Math.min(height - 1, Math.max(0, y + k)) * stride;
    blurDown(across, rows, taps, light, y * stride, stride);
  }
};

/** The row goes on beyond the picture's edge. About two operations a tap. */
const blurRow = (
  from: Float32Array,
  to: Float32Array,
  start: number,
  width: number,
  taps: Float64Array,
  radius: number,
): void => {
  const [t0, t1, t2] = taps;
  for (let x = 0; x < width; x++) {
    if (taps.length === 5 && x >= radius && x < width - radius) {
      for (let i = start + 3 * x, end = i + 3; i < end; i++)
        to[i] = t0 * (from[i - 6] + from[i + 6]) + t1 * (from[i - 3] + from[i + 3]) + t2 * from[i];
      continue;
    }
    const edge = x < radius || x >= width - radius;
    for (let c = 0; c < 3; c++) {
      let sum = 0;
      if (edge)
        for (let k = -radius; k <= radius; k++)
          sum += taps[k + radius] * from[start + 3 * Math.min(width - 1, Math.max(0, x + k)) + c];
      else
        for (let k = 0, i = start + 3 * (x - radius) + c; k < taps.length; k++, i += 3)
          sum += taps[k] * from[i];
      to[start + 3 * x + c] = sum;
    }
  }
};

const blurDown = (
  from: Float32Array,
  rows: Int32Array,
  taps: Float64Array,
  to: Float32Array,
  start: number,
  count: number,
): void => {
  if (taps.length === 5) {
    const [t0, t1, t2] = taps;
    const [a, b, c, d, e] = rows;
    for (let i = 0; i < count; i++)
      to[start + i] = t0 * (from[a + i] + from[e + i]) + t1 * (from[b + i] + from[d + i]) + t2 * from[c + i];
    return;
  }
  for (let i = 0; i < count; i++) {
    let sum = 0;
    for (let k = 0; k < taps.length; k++) sum += taps[k] * from[rows[k] + i];
    to[start + i] = sum;
  }
};
