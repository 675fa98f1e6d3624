/** Lobes of the windowed sinc on each side. */
export const LANCZOS_LOBES = 3;

/** Weight at a distance, samples. */
export type Filter = (x: number) => number;

/** Straight between two samples. */
export const linear: Filter = (x) => Math.max(0, 1 - Math.abs(x));
/** Cubic convolution (Keys 1981). */
export const cubic: Filter = (x) => {
  const d = Math.abs(x);
  if (d >= 2) return 0;
  return d < 1 ? (1.5 * d - 2.5) * d * d + 1 : ((-0.5 * d + 2.5) * d - 4) * d + 2;
};
/** A windowed sinc (Duchon 1979). */
export const lanczosOf: Filter = (x) => {
  if (x === 0) return 1;
  if (Math.abs(x) >= LANCZOS_LOBES) return 0;
  const a = Math.PI * x;
  return (LANCZOS_LOBES * Math.sin(a) * Math.sin(a / LANCZOS_LOBES)) / (a * a);
};

/** Samples in rows. */
export interface Field {
  readonly width: number;
  readonly height: number;
  readonly samples: Float32Array;
}

/**
 * Another size, centres upon centres; where it becomes smaller the filter is as much wider. The direction in which samples
 * become fewer comes first. About 2 operations per tap, for each sample of what is made and of what stands between.
 */
export const resized = (
  from: Field,
  { width, height }: { width: number; height: number },
  filter: Filter,
  lobes: number,
): Field =>
  height <= from.height
    ? alongRows(downColumns(from, height, filter, lobes), width, filter, lobes)
    : downColumns(alongRows(from, width, filter, lobes), height, filter, lobes);

/** For each new sample the first of the old ones that it is made of, and their weights. */
const tapsOf = (
  length: number,
  to: number,
  filter: Filter,
  lobes: number,
): { taps: number; starts: Int32Array; weights: Float32Array } => {
  const ratio = length / to;
  const wide = Math.max(1, ratio);
  const taps = 2 * Math.ceil(lobes * wide);
  const starts = new Int32Array(to);
  const weights = new Float32Array(to * taps);
  for (let x = 0; x < to; x++) {
    const at = (x + 0.5) * ratio - 0.5;
    starts[x] = Math.floor(at) - taps / 2 + 1;
    let sum = 0;
    for (let k = 0; k < taps; k++) sum += weights[x * taps + k] = filter((starts[x] + k - at) / wide);
    for (let k = 0; k < taps; k++) weights[x * taps + k] /= sum;
  }
  return { taps, starts, weights };
};

const alongRows = ({ width, height, samples }: Field, to: number, filter: Filter, lobes: number): Field => {
  const { taps, starts, weights } = tapsOf(width, to, filter, lobes);
  const out = new Float32Array(to * height);
  // A row with what is beyond its ends: no index is held inside the picture within the loops.
  const beside = taps;
  const row = new Float32Array(width + 2 * beside);
  for (let y = 0; y < height; y++) {
    row.set(samples.subarray(y * width, (y + 1) * width), beside);
    row.fill(samples[y * width], 0, beside);
    row.fill(samples[(y + 1) * width - 1], beside + width);
    for (let x = 0; x < to; x++) {
      let sum = 0;
      const start = starts[x] + beside;
      for (let k = 0, w = x * taps; k < taps; k++, w++) sum += weights[w] * row[start + k];
      out[y * to + x] = sum;
    }
  }
  return { width: to, height, samples: out };
};

/** Row by row: a column would be read a row apart, sample by sample. */
const downColumns = ({ width, height, samples }: Field, to: number, filter: Filter, lobes: number): Field => {
  const { taps, starts, weights } = tapsOf(height, to, filter, lobes);
  const out = new Float32Array(width * to);
  const sums = new Float64Array(width);
  const rowOf = (y: number): Float32Array => {
    const held = Math.max(0, Math.min(height - 1, y));
    return samples.subarray(held * width, (held + 1) * width);
  };
  for (let y = 0; y < to; y++) {
    sums.fill(0);
    // Two rows at once: the sums are fetched and put back half as often.
    for (let k = 0, w = y * taps; k < taps; k += 2, w += 2) {
      const [first, second] = [weights[w], weights[w + 1]];
      const [above, below] = [rowOf(starts[y] + k), rowOf(starts[y] + k + 1)];
      for (let x = 0; x < sums.length; x++) sums[x] += first * above[x] + second * below[x];
    }
    out.set(sums, y * width);
  }
  return { width, height: to, samples: out };
};
