/**
 * A sensor whose photosites see one colour each (red green / green blue, Bayer 1976), and the two others made up as
 * the mean of their neighbours: where the lens draws finer than that, false colour comes out.
 * @param light interleaved RGB; changed in place
 */
export const throughMosaic = (light: Float32Array, width: number, height: number): void => {
  const seen = Float32Array.from(light);
  const colourAt = (x: number, y: number): number => ((x & 1) === (y & 1) ? ((x & 1) === 0 ? 0 : 2) : 1);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++)
      for (let c = 0; c < 3; c++) {
        if (colourAt(x, y) === c) continue;
        let [sum, count] = [0, 0];
        for (let v = Math.max(0, y - 1); v <= Math.min(height - 1, y + 1); v++)
          for (let u = Math.max(0, x - 1); u <= Math.min(width - 1, x + 1); u++)
            if (colourAt(u, v) === c) {
              const near = u === x || v === y ? 1 : c === 1 ? 0 : 1;
              sum += near * seen[3 * (v * width + u) + c];
              count += near;
            }
        light[3 * (y * width + x) + c] = count > 0 ? sum / count : 0;
      }
};
