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

/**
 * The same at any place: beyond the edges the picture goes on as it ends.
 * @param height rows; picture of at least 2 × 2 samples
 */
export const bilinearWithin = (
  samples: ArrayLike<number>,
  width: number,
  height: number,
  x: number,
  y: number,
): number => {
  const ix = Math.max(0, Math.min(width - 2, Math.floor(x)));
  const iy = Math.max(0, Math.min(height - 2, Math.floor(y)));
  const fx = Math.max(0, Math.min(1, x - ix));
  const fy = Math.max(0, Math.min(1, y - iy));
  const i = iy * width + ix;
  const top = samples[i] + (samples[i + 1] - samples[i]) * fx;
  const bottom = samples[i + width] + (samples[i + width + 1] - samples[i + width]) * fx;
  return top + (bottom - top) * fy;
};
