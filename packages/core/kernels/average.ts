// Averaging over time along the movement, and what is left over space. Planes of floats, strides in samples.

import { BEFORE, TAPS } from './blocks';

/** Room for a block of 16×16 and the rows that the filter needs beside it. */
const SCRATCH: usize = 1024;
/** Marks a sample that the other frame does not show. */
export const UNSEEN: f32 = 1e9;

/**
 * See treatments/average.ts: what a block of another frame, read between its samples, differs from this frame's.
 * @param here, there addresses of the block's first sample in both frames; the caller keeps the filter inside
 * @param taps 2 × 6 weights: along rows, then down columns
 * @param width a multiple of 4, 16 at most; height 16 at most
 * @param to address of the block's first sample in the plane of differences
 */
export function movedApart(
  here: usize,
  there: usize,
  stride: i32,
  taps: usize,
  width: i32,
  height: i32,
  to: usize,
): void {
  const row = (<usize>stride) << 2;
  const across = (<usize>width) << 2;
  let p = there - <usize>BEFORE * row - ((<usize>BEFORE) << 2);
  for (let r = 0; r < height + TAPS - 1; r++, p += row)
    for (let c: usize = 0; c < across; c += 16) {
      let sum = f32x4.splat(0);
      for (let k: usize = 0; k < <usize>TAPS; k++)
        sum = f32x4.add(sum, f32x4.mul(v128.load32_splat(taps + (k << 2)), v128.load(p + c + (k << 2))));
      v128.store(SCRATCH + <usize>r * across + c, sum);
    }
  for (let r: usize = 0; r < <usize>height; r++)
    for (let c: usize = 0; c < across; c += 16) {
      const column = SCRATCH + r * across + c;
      let moved = f32x4.splat(0);
      for (let k: usize = 0; k < <usize>TAPS; k++)
        moved = f32x4.add(
          moved,
          f32x4.mul(v128.load32_splat(taps + ((<usize>TAPS + k) << 2)), v128.load(column + k * across)),
        );
      v128.store(to + r * row + c, f32x4.sub(moved, v128.load(here + r * row + c)));
    }
}

function box(p: usize): v128 {
  return f32x4.add(v128.load(p), f32x4.add(v128.load(p - 4), v128.load(p + 4)));
}

/**
 * Adds the differences to a weighted sum. Where the mean of 3×3 differences is larger than noise makes it, something else
 * is there: it counts less, and from `most` on not at all.
 * @param sum, weight planes that are added to
 * @param least, most squares of the sum of nine differences
 */
export function addAlike(
  apart: usize,
  width: i32,
  height: i32,
  least: f32,
  most: f32,
  sum: usize,
  weight: usize,
): void {
  const row = (<usize>width) << 2;
  const mosts = f32x4.splat(most);
  const scale = f32x4.splat(1 / (most - least));
  const one = f32x4.splat(1);
  const nothing = f32x4.splat(0);
  for (let y = 1; y < height - 1; y++) {
    const start = <usize>y * row;
    for (let x: usize = 4; x + 16 < row; x += 16) {
      const p = apart + start + x;
      const nine = f32x4.add(box(p), f32x4.add(box(p - row), box(p + row)));
      const w = f32x4.max(nothing, f32x4.min(one, f32x4.mul(f32x4.sub(mosts, f32x4.mul(nine, nine)), scale)));
      const at = start + x;
      v128.store(sum + at, f32x4.add(v128.load(sum + at), f32x4.mul(w, v128.load(p))));
      v128.store(weight + at, f32x4.add(v128.load(weight + at), w));
    }
  }
}

/** The mean of this frame and what was added: `to` may be `here`. */
export function meanOf(here: usize, sum: usize, weight: usize, count: i32, to: usize): void {
  const one = f32x4.splat(1);
  for (let i: usize = 0; i < (<usize>count) << 2; i += 16)
    v128.store(
      to + i,
      f32x4.add(v128.load(here + i), f32x4.div(v128.load(sum + i), f32x4.add(one, v128.load(weight + i)))),
    );
}

/** Side of a block of the transform, and how far apart they lie. */
export const SIDE: i32 = 8;
const APART: i32 = 4;
const WORK: usize = 2560;
const HELD: usize = 2816;

/** `to` = `m` · `from`, or its transpose · `from`; all of 8×8 floats. */
function multiply(m: usize, rowStep: usize, columnStep: usize, from: usize, to: usize): void {
  for (let r: usize = 0; r < <usize>SIDE; r++) {
    let left = f32x4.splat(0);
    let right = f32x4.splat(0);
    for (let k: usize = 0; k < <usize>SIDE; k++) {
      const w = v128.load32_splat(m + r * rowStep + k * columnStep);
      left = f32x4.add(left, f32x4.mul(w, v128.load(from + (k << 5))));
      right = f32x4.add(right, f32x4.mul(w, v128.load(from + (k << 5) + 16)));
    }
    v128.store(to + (r << 5), left);
    v128.store(to + (r << 5) + 16, right);
  }
}

function transpose8(at: usize): void {
  for (let r: usize = 0; r < <usize>SIDE; r++)
    for (let c: usize = r + 1; c < <usize>SIDE; c++) {
      const a = at + (r << 5) + (c << 2);
      const b = at + (c << 5) + (r << 2);
      const kept = load<f32>(a);
      store<f32>(a, load<f32>(b));
      store<f32>(b, kept);
    }
}

/**
 * See treatments/average.ts: takes noise from blocks of 8×8 that overlap by half, by what of their cosine transform
 * stands no higher than `reach` times the noise (Yaroslavsky 1985; weights after Guleryuz 2007).
 * @param noise standard deviation of one frame's noise; that of a sample is this over the root of 1 + its weight
 * @param matrix orthonormal cosine transform, 8×8
 * @param sum, share planes of nothing; what comes out is `sum` over `share`
 */
export function shrinkBlocks(
  from: usize,
  weight: usize,
  width: i32,
  height: i32,
  noise: f32,
  reach: f32,
  matrix: usize,
  sum: usize,
  share: usize,
): void {
  const row = (<usize>width) << 2;
  for (
    let y = 0;
    y + SIDE <= height;
    y += y + SIDE + APART > height && y + SIDE < height ? height - SIDE - y : APART
  )
    for (
      let x = 0;
      x + SIDE <= width;
      x += x + SIDE + APART > width && x + SIDE < width ? width - SIDE - x : APART
    ) {
      const p = from + <usize>y * row + ((<usize>x) << 2);
      const w = weight + <usize>y * row + ((<usize>x) << 2);
      let seen: f32 = 0;
      for (let r: usize = 0; r < <usize>SIDE; r++) {
        v128.store(WORK + (r << 5), v128.load(p + r * row));
        v128.store(WORK + (r << 5) + 16, v128.load(p + r * row + 16));
        seen += load<f32>(w + r * row + 12);
      }
      const least = (reach * noise) / <f32>Math.sqrt(1 + seen / <f32>SIDE);
      multiply(matrix, 32, 4, WORK, HELD);
      transpose8(HELD);
      multiply(matrix, 32, 4, HELD, WORK);
      let kept: f32 = 1;
      const limit = f32x4.splat(least);
      const one = f32x4.splat(1);
      let counted = f32x4.splat(0);
      const mean = load<f32>(WORK);
      for (let i: usize = 0; i < 256; i += 16) {
        const v = v128.load(WORK + i);
        const high = f32x4.ge(f32x4.abs(v), limit);
        counted = f32x4.add(counted, v128.and(one, high));
        v128.store(WORK + i, v128.and(v, high));
      }
      store<f32>(WORK, mean);
      kept +=
        f32x4.extract_lane(counted, 0) +
        f32x4.extract_lane(counted, 1) +
        f32x4.extract_lane(counted, 2) +
        f32x4.extract_lane(counted, 3);
      multiply(matrix, 4, 32, WORK, HELD);
      transpose8(HELD);
      multiply(matrix, 4, 32, HELD, WORK);
      const k = f32x4.splat(1 / kept);
      for (let r: usize = 0; r < <usize>SIDE; r++)
        for (let c: usize = 0; c < 32; c += 16) {
          const at = <usize>y * row + ((<usize>x) << 2) + r * row + c;
          v128.store(sum + at, f32x4.add(v128.load(sum + at), f32x4.mul(k, v128.load(WORK + (r << 5) + c))));
          v128.store(share + at, f32x4.add(v128.load(share + at), k));
        }
    }
}

/** `to` = `from` + `part` · (`sum` / `share` − `from`). */
export function blendMean(from: usize, sum: usize, share: usize, part: f32, count: i32, to: usize): void {
  const parts = f32x4.splat(part);
  for (let i: usize = 0; i < (<usize>count) << 2; i += 16) {
    const v = v128.load(from + i);
    const d = f32x4.sub(f32x4.div(v128.load(sum + i), v128.load(share + i)), v);
    v128.store(to + i, f32x4.add(v, f32x4.mul(parts, d)));
  }
}
