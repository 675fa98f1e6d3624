import type { Plane } from '../picture/frame.js';

/** What a picture is cut into along one axis: where each part begins, and behind where it ends. Parts share samples. */
interface Parts {
  readonly first: Int32Array;
  readonly end: Int32Array;
}

const partsOf = (samples: number, parts: number): Parts => ({
  first: Int32Array.from({ length: parts }, (_, i) => Math.floor((i * samples) / parts)),
  end: Int32Array.from({ length: parts }, (_, i) => Math.ceil(((i + 1) * samples) / parts)),
});

/**
 * The means of the parts of a picture, `columns` × `rows`, row by row; a sample that lies in two parts counts in both.
 * About two operations a sample.
 */
export const meansOf = (
  { width, height, samples }: Pick<Plane, 'width' | 'height'> & { readonly samples: ArrayLike<number> },
  columns: number,
  rows: number,
): Float32Array => {
  const across = partsOf(width, columns);
  const down = partsOf(height, rows);
  const sums = new Float64Array(height * columns);
  for (let y = 0, to = 0; y < height; y++)
    for (let u = 0, row = y * width; u < columns; u++, to++) {
      let sum = 0;
      for (let i = row + across.first[u], end = row + across.end[u]; i < end; i++) sum += samples[i];
      sums[to] = sum;
    }
  const out = new Float32Array(columns * rows);
  for (let v = 0, to = 0; v < rows; v++)
    for (let u = 0; u < columns; u++, to++) {
      let sum = 0;
      for (let y = down.first[v]; y < down.end[v]; y++) sum += sums[y * columns + u];
      out[to] = sum / ((across.end[u] - across.first[u]) * (down.end[v] - down.first[v]));
    }
  return out;
};
