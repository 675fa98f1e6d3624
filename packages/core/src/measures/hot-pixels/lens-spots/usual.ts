import { constantOf, kernels } from '../../../kernels/kernels.js';
import { atPlace, madSigma, mean } from '../../../maths/robust.js';
import type { Level } from '../../../picture/pyramid.js';

type Size = Pick<Level, 'width' | 'height'>;

/** Looks are kept in steps of this much (log of light); a spot is nothing stronger than 127 of them. */
export const STEP = 0.005;
/** A place that a look does not show. */
export const UNKNOWN = constantOf('UNKNOWN');
/** No more looks than these are compared. */
export const MOST_LOOKS = constantOf('MOST_LOOKS');

/** What two frames that were laid over one another differed by, in steps, and how far apart they lay, whole pixels. */
export interface Look {
  readonly steps: Int8Array;
  readonly dx: number;
  readonly dy: number;
}

/**
 * What most looks agree on at each place: what passes, and what lies nearer or farther than the scene, does not stay.
 * A look shows the dirt where it lies and, the other way round, where it lay in the frame compared with: what is known
 * of it by then is added back, so that in a few rounds the second trace is gone and the first is whole.
 * @param looks no more than {@link MOST_LOOKS}
 * @param least looks that must know a place
 * @returns log of light for each place, 0 where nothing is known. About 60 operations a place and round, four at a time
 */
export const usual = (
  looks: readonly Look[],
  { width, height }: Size,
  rounds: number,
  least: number,
): Float32Array => {
  const places = width * height;
  // What is added back may lie outside, where nothing is: a margin of that.
  const [across, down] = [
    Math.max(...looks.map((l) => Math.abs(l.dx))),
    Math.max(...looks.map((l) => Math.abs(l.dy))),
  ];
  const stride = width + 2 * across;
  const padded = stride * (height + 2 * down);
  const first = down * stride + across;
  const pairs = comparisons(looks.length);
  kernels.reserve(
    2 * padded + looks.length * Math.ceil(places / 4) + looks.length + 2 * pairs.length,
    4 + looks.length,
  );
  const steps = new Int8Array(looks.length * places);
  looks.forEach((look, k) => steps.set(look.steps, k * places));
  const from = kernels.putBytes(steps);
  const moves = kernels.putWholes(looks.map(({ dx, dy }) => -4 * (dy * stride + dx)));
  const order = kernels.putWholes(pairs.flatMap(([a, b]) => [16 * a, 16 * b]));
  let [before, level] = [kernels.room(padded), kernels.room(padded)];
  for (const plane of [before, level]) kernels.fill(plane, padded, 0);
  for (let round = 1; round <= rounds; round++, [before, level] = [level, before])
    kernels.run.usualOf(
      from,
      places,
      looks.length,
      moves,
      order,
      pairs.length,
      width,
      height,
      stride,
      before + 4 * first,
      level + 4 * first,
      STEP,
      least,
    );
  const out = new Float32Array(places);
  const told = kernels.view(before, padded);
  for (let y = 0; y < height; y++)
    out.set(told.subarray(first + y * stride, first + y * stride + width), y * width);
  return out;
};

/** Variance of a median over that of a mean (Laplace 1818). */
const OF_A_MEDIAN = Math.PI / 2;

/**
 * Standard error of what most looks agree on, in the mean of some places: by how far the looks lie apart there. Neighbours err
 * alike, and what a round errs by is added to what was known before.
 * @param level what they agree on after so many rounds
 * @returns log of light
 */
export const errorOver = (
  places: readonly number[],
  looks: readonly Look[],
  { width, height, samples }: Level,
  rounds: number,
): number => {
  const errors = places.map((i) => {
    const [x, y] = [i % width, Math.floor(i / width)];
    const values = looks
      .filter(({ steps }) => steps[i] !== UNKNOWN)
      .map(({ steps, dx, dy }) => STEP * steps[i] + layAt(samples, { width, height }, x - dx, y - dy));
    return madSigma(values) ** 2 / values.length;
  });
  return Math.sqrt(OF_A_MEDIAN * rounds * mean(errors));
};

/** What is known of a place, 0 outside of the picture. */
const layAt = (level: Float32Array, { width, height }: Size, x: number, y: number): number =>
  x >= 0 && y >= 0 && x < width && y < height ? level[y * width + x] : 0;

/** Which two of so many are compared one after the other, until all are in order (Batcher 1968: merging odds and evens). */
const comparisons = (count: number): [number, number][] => {
  const pairs: [number, number][] = [];
  for (let p = 1; p < count; p *= 2)
    for (let k = p; k >= 1; k /= 2)
      for (let j = k % p; j + k < count; j += 2 * k)
        for (let i = j; i < Math.min(j + k, count - k); i++)
          if (Math.floor(i / (2 * p)) === Math.floor((i + k) / (2 * p))) pairs.push([i, i + k]);
  return pairs;
};

/** The same, plainly: what the kernel is compared with. */
export const usualPlain = (
  looks: readonly Look[],
  { width, height }: Size,
  rounds: number,
  least: number,
): Float32Array => {
  let level = new Float32Array(width * height);
  const values = new Float64Array(looks.length);
  for (let round = 1; round <= rounds; round++) {
    const before = level;
    level = new Float32Array(before.length);
    for (let y = 0, i = 0; y < height; y++)
      for (let x = 0; x < width; x++, i++) {
        let n = 0;
        for (const { steps, dx, dy } of looks) {
          if (steps[i] === UNKNOWN) continue;
          values[n++] = STEP * steps[i] + layAt(before, { width, height }, x - dx, y - dy);
        }
        if (n < least) continue;
        level[i] = atPlace(values, n >> 1, n);
      }
  }
  return level;
};
