import { kernels } from '../kernels/kernels.js';
import type { Plane } from './frame.js';
import type { Rooms } from './rooms.js';

/** One level of a pyramid: float samples, row by row. */
export interface Level {
  readonly width: number;
  readonly height: number;
  readonly samples: Float32Array;
}

const SMALLEST_SIDE = 24;

/** Where the samples of a new picture go: into memory of their own, if none is lent. */
const roomFor = (samples: number, rooms?: Rooms): Float32Array =>
  rooms?.take(samples) ?? new Float32Array(samples);

/** Area-averages 2×2 pixels into one; an odd last row or column is dropped. */
export const halve = (
  plane: { width: number; height: number; samples: ArrayLike<number> },
  rooms?: Rooms,
): Level => {
  const [width, height] = [plane.width >> 1, plane.height >> 1];
  kernels.reserve(plane.samples.length + width * height, 2);
  const from = kernels.put(plane.samples);
  const to = kernels.room(width * height);
  kernels.run.halve(from, plane.width, plane.height, to);
  return { width, height, samples: kernels.copy(to, roomFor(width * height, rooms)) };
};

/** The same, plainly: what the kernel is compared with. 5 operations per input pixel. */
export const halvePlain = (plane: { width: number; height: number; samples: ArrayLike<number> }): Level => {
  const width = plane.width >> 1;
  const height = plane.height >> 1;
  const samples = new Float32Array(width * height);
  const from = plane.samples;
  for (let y = 0, o = 0; y < height; y++) {
    let i = 2 * y * plane.width;
    let j = i + plane.width;
    for (let x = 0; x < width; x++, i += 2, j += 2, o++)
      samples[o] = 0.25 * (from[i] + from[i + 1] + from[j] + from[j + 1]);
  }
  return { width, height, samples };
};

/** Levels from `base` down, each half the size of the one before, until a side would fall below 24 pixels. */
export const pyramid = (base: Level, rooms?: Rooms): Level[] => {
  const levels = [base];
  for (;;) {
    const last = levels[levels.length - 1];
    if (Math.min(last.width, last.height) < 2 * SMALLEST_SIDE) return levels;
    levels.push(halve(last, rooms));
  }
};

/** Weighs each pixel with its neighbours 1–2–1, along rows and down columns: what aliases would draw subpixel motion to whole pixels. */
export const smoothed = ({ width, height, samples }: Level): Level => {
  kernels.reserve(2 * samples.length + 3 * (width + MARGIN), 3);
  const from = kernels.put(samples);
  const to = kernels.room(samples.length);
  kernels.run.smooth(from, width, height, kernels.room(3 * (width + MARGIN)), to);
  return { width, height, samples: kernels.get(to, samples.length) };
};

/** The same, plainly: 6 operations per pixel. */
export const smoothedPlain = ({ width, height, samples: s }: Level): Level => {
  const rows = new Float32Array(s.length);
  for (let y = 0; y < height; y++) {
    const start = y * width;
    const end = start + width - 1;
    rows[start] = s[start];
    rows[end] = s[end];
    for (let i = start + 1; i < end; i++) rows[i] = 0.25 * (s[i - 1] + s[i + 1]) + 0.5 * s[i];
  }
  const out = new Float32Array(s.length);
  out.set(rows.subarray(0, width));
  out.set(rows.subarray((height - 1) * width), (height - 1) * width);
  for (let i = width; i < (height - 1) * width; i++)
    out[i] = 0.25 * (rows[i - width] + rows[i + width]) + 0.5 * rows[i];
  return { width, height, samples: out };
};

/** A plane as floats, in its own codes. */
export const asLevel = ({ width, height, samples }: Plane, rooms?: Rooms): Level => {
  const floats = roomFor(samples.length, rooms);
  floats.set(samples);
  return { width, height, samples: floats };
};

/**
 * Takes away the local mean (a box of `2·radius+1` pixels a side), so that light which changes slowly across the
 * picture plays no part.
 */
export const withoutLocalMean = ({ width, height, samples }: Level, radius: number, rooms?: Rooms): Level => {
  kernels.reserve(2 * samples.length + 2 * width + MARGIN, 3);
  const from = kernels.put(samples);
  const to = kernels.room(samples.length);
  kernels.run.withoutLocalMean(from, width, height, radius, kernels.room(2 * width + MARGIN), to);
  return { width, height, samples: kernels.copy(to, roomFor(samples.length, rooms)) };
};

const MARGIN = 8;

/** The same, plainly: separable running sums, about 8 operations per pixel, whatever the radius. */
export const withoutLocalMeanPlain = (level: Level, radius: number): Level => {
  const { width, height, samples } = level;
  const rows = new Float32Array(samples.length);
  const share = reciprocals(width, radius);
  for (let y = 0; y < height; y++) meanAlong(samples, rows, y * width, width, radius, share);
  const out = new Float32Array(samples.length);
  const sums = new Float64Array(width);
  const shareDown = reciprocals(height, radius);
  for (let y = 0; y <= Math.min(radius, height - 1); y++) addRow(sums, rows, y * width, 1);
  for (let y = 0; y < height; y++) {
    const k = shareDown[y];
    for (let x = 0, i = y * width; x < width; x++, i++) out[i] = samples[i] - sums[x] * k;
    if (y + radius + 1 < height) addRow(sums, rows, (y + radius + 1) * width, 1);
    if (y - radius >= 0) addRow(sums, rows, (y - radius) * width, -1);
  }
  return { width, height, samples: out };
};

/** One over the number of samples within `radius` of each place of a line. */
const reciprocals = (length: number, radius: number): Float64Array =>
  Float64Array.from(
    { length },
    (_, i) => 1 / (Math.min(length - 1, i + radius) - Math.max(0, i - radius) + 1),
  );

const meanAlong = (
  from: Float32Array,
  to: Float32Array,
  start: number,
  width: number,
  radius: number,
  share: Float64Array,
): void => {
  let sum = 0;
  for (let x = 0; x < Math.min(radius, width); x++) sum += from[start + x];
  const filling = Math.min(radius + 1, width);
  const steady = Math.max(filling, width - radius);
  for (let x = 0; x < filling; x++) {
    if (x + radius < width) sum += from[start + x + radius];
    to[start + x] = sum * share[x];
  }
  for (let x = filling; x < steady; x++) {
    sum += from[start + x + radius] - from[start + x - radius - 1];
    to[start + x] = sum * share[x];
  }
  for (let x = steady; x < width; x++) {
    sum -= from[start + x - radius - 1];
    to[start + x] = sum * share[x];
  }
};

const addRow = (sums: Float64Array, rows: Float32Array, start: number, sign: 1 | -1): void => {
  for (let x = 0; x < sums.length; x++) sums[x] += sign * rows[start + x];
};
