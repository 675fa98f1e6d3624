import type { Level } from '../picture/pyramid.js';
import { meansOf } from './means.js';

/** A frame in so many means across and down: enough to tell one moment from another, whatever the size. */
const ACROSS = 32;
const DOWN = 18;
/** Fewer frames than these in common tell nothing. */
export const LEAST_COMMON = 3;

/** Means of the parts of a picture, free of brightness and contrast: two of them multiplied are their correlation. */
export const signatureOf = (picture: Level): Float32Array => {
  const out = meansOf(picture, ACROSS, DOWN);
  const mean = out.reduce((s, x) => s + x, 0) / out.length;
  let squares = 0;
  for (let i = 0; i < out.length; i++) squares += (out[i] -= mean) ** 2;
  const k = squares > 0 ? 1 / Math.sqrt(squares) : 0;
  for (let i = 0; i < out.length; i++) out[i] *= k;
  return out;
};

const product = (one: Float32Array, other: Float32Array): number => {
  let sum = 0;
  for (let i = 0; i < one.length; i++) sum += one[i] * other[i];
  return sum;
};

/** A frame of the original that the repaired file may begin with, and how alike the frames then are, −1 to 1. */
export interface Offset {
  readonly offset: number;
  readonly alike: number;
}

/** Frames that are compared for one offset: more tell nothing new. */
const MOST_COMPARED = 240;

/**
 * How alike the frames of two clips are at each offset, best first.
 * @param original, repaired signatures of every frame
 */
export const offsetsOf = (original: readonly Float32Array[], repaired: readonly Float32Array[]): Offset[] => {
  const found: Offset[] = [];
  const least = Math.min(LEAST_COMMON, original.length, repaired.length);
  for (let offset = least - repaired.length; offset <= original.length - least; offset++) {
    const [first, last] = [Math.max(0, -offset), Math.min(repaired.length, original.length - offset)];
    const stride = Math.max(1, Math.ceil((last - first) / MOST_COMPARED));
    let [sum, count] = [0, 0];
    for (let j = first; j < last; j += stride, count++) sum += product(original[j + offset], repaired[j]);
    found.push({ offset, alike: sum / count });
  }
  return found.sort((x, y) => y.alike - x.alike);
};

/**
 * The same by what sets each frame apart from the mean of its clip: where nothing moves it is all that tells one moment from
 * another.
 */
export const offsetsByChange = (
  original: readonly Float32Array[],
  repaired: readonly Float32Array[],
): Offset[] => {
  const [one, other] = [original, repaired].map(changesOf);
  const found: Offset[] = [];
  const least = Math.min(LEAST_COMMON, one.length, other.length);
  for (let offset = least - other.length; offset <= one.length - least; offset++) {
    const [first, last] = [Math.max(0, -offset), Math.min(other.length, one.length - offset)];
    const stride = Math.max(1, Math.ceil((last - first) / MOST_COMPARED));
    let [xy, xx, yy, count] = [0, 0, 0, 0];
    for (let j = first; j < last; j += stride, count++) {
      xy += product(one[j + offset], other[j]);
      xx += product(one[j + offset], one[j + offset]);
      yy += product(other[j], other[j]);
    }
    // Few frames in common are alike by chance.
    const alike = xx > 0 && yy > 0 ? xy / Math.sqrt(xx * yy) : 0;
    found.push({
      offset,
      alike: alike * Math.sqrt(count / Math.min(other.length, one.length, MOST_COMPARED)),
    });
  }
  return found.sort((x, y) => y.alike - x.alike);
};

const changesOf = (signatures: readonly Float32Array[]): Float32Array[] => {
  const mean = new Float32Array(ACROSS * DOWN);
  for (const each of signatures) for (let i = 0; i < mean.length; i++) mean[i] += each[i] / signatures.length;
  return signatures.map((each) => each.map((v, i) => v - mean[i]));
};

/** The best offsets that lie apart from each other. */
export const candidatesOf = (offsets: readonly Offset[], apart: number, most: number): Offset[] => {
  const chosen: Offset[] = [];
  for (const each of offsets) {
    if (chosen.length === most) break;
    if (chosen.every((c) => Math.abs(c.offset - each.offset) >= apart)) chosen.push(each);
  }
  return chosen;
};

/** Means over such squares: noise of single samples counts less, what is alone in a frame stays. */
const SQUARE = 2;

/**
 * Which of several frames of the original a repaired one is: what sets each of them apart from their mean is looked for in the
 * repaired one. Movement, light and noise of its own all tell.
 * @param frames of the original, one after the other
 * @param repaired laid over them
 * @returns correlation for each of the frames, −1 to 1
 */
export const whichOf = (frames: readonly Level[], repaired: Level, seen: Uint8Array): number[] => {
  const [{ width, height }] = frames;
  const [columns, rows] = [Math.floor(width / SQUARE), Math.floor(height / SQUARE)];
  const squares = (of: Level): Float32Array => {
    const out = new Float32Array(columns * rows);
    for (let v = 0; v < rows; v++)
      for (let u = 0; u < columns; u++) {
        const at = v * SQUARE * width + u * SQUARE;
        out[v * columns + u] =
          of.samples[at] + of.samples[at + 1] + of.samples[at + width] + of.samples[at + width + 1];
      }
    return out;
  };
  const shown = new Uint8Array(columns * rows);
  for (let v = 0; v < rows; v++)
    for (let u = 0; u < columns; u++) shown[v * columns + u] = seen[v * SQUARE * width + u * SQUARE];
  const all = frames.map(squares);
  const own = squares(repaired);
  const mean = new Float32Array(columns * rows);
  for (const each of all) for (let i = 0; i < mean.length; i++) mean[i] += each[i] / all.length;
  return all.map((each) => {
    let [n, x, y, xx, yy, xy] = [0, 0, 0, 0, 0, 0];
    for (let i = 0; i < mean.length; i++) {
      if (shown[i] === 0) continue;
      const u = each[i] - mean[i];
      const v = own[i] - mean[i];
      n++;
      x += u;
      y += v;
      xx += u * u;
      yy += v * v;
      xy += u * v;
    }
    const [sx, sy] = [xx - (x * x) / n, yy - (y * y) / n];
    return n > 0 && sx > 0 && sy > 0 ? (xy - (x * y) / n) / Math.sqrt(sx * sy) : 0;
  });
};
