/**
 * A picture between its samples: weighted mean of the four about the place.
 * @param samples row by row
 * @param width samples in a row
 * @param x sample coordinates; the four neighbours must lie in the picture
 */
export const bilinear = (samples: ArrayLike<number>, width: number, x: number, y: number): number => {
  const [ix, iy] = [Math.floor(x), Math.floor(y)];
  const [fx, fy] = [x - ix, y - iy];
  const i = iy * width + ix;
  const top = samples[i] + (samples[i + 1] - samples[i]) * fx;
  const bottom = samples[i + width] + (samples[i + width + 1] - samples[i + width]) * fx;
  return top + (bottom - top) * fy;
};
