// Averaging over time along the movement, and what is left over space. Planes of floats, strides in samples.

import { BEFORE, TAPS } from './blocks';

/** Room for a block of 16×16 and the rows that the filter needs beside it. */
const SCRATCH: usize = 1024;
/** Marks a sample that the other frame does not show. */
export const UNSEEN: f32 = 1e9;

/**
 * See treatments/average.ts: what a block of another frame, read between its samples, differs from this frame's.
 * @param here, there addresses of the block's first sample in both frames; the caller keeps the filter inside
 * @param along, down addresses of the 6 weights along rows and down columns
 * @param width a multiple of 4, 16 at most; height 16 at most
 * @param to address of the block's first sample in the plane of differences
 */
export function movedApart(
  here: usize,
  there: usize,
  stride: i32,
  along: usize,
  down: usize,
  width: i32,
  height: i32,
  to: usize,
): void {
  const row = (<usize>stride) << 2;
  const across = (<usize>width) << 2;
  let w0 = v128.load32_splat(along);
  let w1 = v128.load32_splat(along, 4);
  let w2 = v128.load32_splat(along, 8);
  let w3 = v128.load32_splat(along, 12);
  let w4 = v128.load32_splat(along, 16);
  let w5 = v128.load32_splat(along, 20);
  let p = there - <usize>BEFORE * row - ((<usize>BEFORE) << 2);
  let o = SCRATCH;
  for (let r = 0; r < height + TAPS - 1; r++, p += row)
    for (let c: usize = 0; c < across; c += 16, o += 16)
      v128.store(
        o,
        six(
          f32x4.mul(w0, v128.load(p + c)),
          f32x4.mul(w1, v128.load(p + c, 4)),
          f32x4.mul(w2, v128.load(p + c, 8)),
          f32x4.mul(w3, v128.load(p + c, 12)),
          f32x4.mul(w4, v128.load(p + c, 16)),
          f32x4.mul(w5, v128.load(p + c, 20)),
        ),
      );
  w0 = v128.load32_splat(down);
  w1 = v128.load32_splat(down, 4);
  w2 = v128.load32_splat(down, 8);
  w3 = v128.load32_splat(down, 12);
  w4 = v128.load32_splat(down, 16);
  w5 = v128.load32_splat(down, 20);
  // Down a column, so that each row is read once: the five above it are at hand.
  for (let c: usize = 0; c < across; c += 16) {
    let q = SCRATCH + c;
    let v0 = v128.load(q);
    let v1 = v128.load(q + across);
    let v2 = v128.load(q + 2 * across);
    let v3 = v128.load(q + 3 * across);
    let v4 = v128.load(q + 4 * across);
    q += 5 * across;
    for (let at = c, end = c + <usize>height * row; at < end; at += row, q += across) {
      const v5 = v128.load(q);
      const moved = six(
        f32x4.mul(w0, v0),
        f32x4.mul(w1, v1),
        f32x4.mul(w2, v2),
        f32x4.mul(w3, v3),
        f32x4.mul(w4, v4),
        f32x4.mul(w5, v5),
      );
      v128.store(to + at, f32x4.sub(moved, v128.load(here + at)));
      v0 = v1;
      v1 = v2;
      v2 = v3;
      v3 = v4;
      v4 = v5;
    }
  }
}

/** Their sum, in pairs: no term waits for the one before. */
function six(a: v128, b: v128, c: v128, d: v128, e: v128, f: v128): v128 {
  return f32x4.add(f32x4.add(f32x4.add(a, b), f32x4.add(c, d)), f32x4.add(e, f));
}

function three(p: usize, row: usize): v128 {
  return f32x4.add(v128.load(p), f32x4.add(v128.load(p - row), v128.load(p + row)));
}

function columnOf(p: usize, row: usize): f32 {
  return load<f32>(p) + (load<f32>(p - row) + load<f32>(p + row));
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
    // Sums of three rows, those of the columns beside them by shifting: from the second sample on.
    let next = three(apart + start + 4, row);
    let last = f32x4.splat(columnOf(apart + start, row));
    for (let x: usize = 4; x + 16 < row; x += 16) {
      const p = apart + start + x;
      const own = next;
      next = three(p + 16, row);
      const nine = f32x4.add(
        f32x4.add(own, v128.shuffle<f32>(last, own, 3, 4, 5, 6)),
        v128.shuffle<f32>(own, next, 1, 2, 3, 4),
      );
      last = own;
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

/** Weights of the orthonormal cosine transform of eight: half the cosine of so many sixteenths of π. */
const C1: f32 = 0.4903926402016152;
const C2: f32 = 0.46193976625564337;
const C3: f32 = 0.4157348061512726;
const C4: f32 = 0.35355339059327373;
const C5: f32 = 0.2777851165098011;
const C6: f32 = 0.1913417161825449;
const C7: f32 = 0.09754516100806412;

function weighed(k: f32, v: v128): v128 {
  return f32x4.mul(f32x4.splat(k), v);
}

function four(a: v128, b: v128, c: v128, d: v128): v128 {
  return f32x4.add(f32x4.add(a, b), f32x4.add(c, d));
}

/** Cosine transform down four columns of eight, by sums and differences of rows (Chen, Smith and Fralick 1977). */
function transform4(from: usize, row: usize, to: usize): void {
  const x0 = v128.load(from);
  const x1 = v128.load(from + row);
  const x2 = v128.load(from + 2 * row);
  const x3 = v128.load(from + 3 * row);
  const x4 = v128.load(from + 4 * row);
  const x5 = v128.load(from + 5 * row);
  const x6 = v128.load(from + 6 * row);
  const x7 = v128.load(from + 7 * row);
  const a0 = f32x4.add(x0, x7);
  const a1 = f32x4.add(x1, x6);
  const a2 = f32x4.add(x2, x5);
  const a3 = f32x4.add(x3, x4);
  const b0 = f32x4.sub(x0, x7);
  const b1 = f32x4.sub(x1, x6);
  const b2 = f32x4.sub(x2, x5);
  const b3 = f32x4.sub(x3, x4);
  const outer = f32x4.add(a0, a3);
  const inner = f32x4.add(a1, a2);
  const c0 = f32x4.sub(a0, a3);
  const c1 = f32x4.sub(a1, a2);
  v128.store(to, weighed(C4, f32x4.add(outer, inner)));
  v128.store(to, weighed(C4, f32x4.sub(outer, inner)), 128);
  v128.store(to, f32x4.add(weighed(C2, c0), weighed(C6, c1)), 64);
  v128.store(to, f32x4.sub(weighed(C6, c0), weighed(C2, c1)), 192);
  v128.store(to, four(weighed(C1, b0), weighed(C3, b1), weighed(C5, b2), weighed(C7, b3)), 32);
  v128.store(to, four(weighed(C3, b0), weighed(-C7, b1), weighed(-C1, b2), weighed(-C5, b3)), 96);
  v128.store(to, four(weighed(C5, b0), weighed(-C1, b1), weighed(C7, b2), weighed(C3, b3)), 160);
  v128.store(to, four(weighed(C7, b0), weighed(-C5, b1), weighed(C3, b2), weighed(-C1, b3)), 224);
}

/** The way back, down four columns. */
function back4(from: usize, to: usize): void {
  const y1 = v128.load(from, 32);
  const y2 = v128.load(from, 64);
  const y3 = v128.load(from, 96);
  const y5 = v128.load(from, 160);
  const y6 = v128.load(from, 192);
  const y7 = v128.load(from, 224);
  const e0 = weighed(C4, f32x4.add(v128.load(from), v128.load(from, 128)));
  const e1 = weighed(C4, f32x4.sub(v128.load(from), v128.load(from, 128)));
  const f0 = f32x4.add(weighed(C2, y2), weighed(C6, y6));
  const f1 = f32x4.sub(weighed(C6, y2), weighed(C2, y6));
  const a0 = f32x4.add(e0, f0);
  const a1 = f32x4.add(e1, f1);
  const a2 = f32x4.sub(e1, f1);
  const a3 = f32x4.sub(e0, f0);
  const b0 = four(weighed(C1, y1), weighed(C3, y3), weighed(C5, y5), weighed(C7, y7));
  const b1 = four(weighed(C3, y1), weighed(-C7, y3), weighed(-C1, y5), weighed(-C5, y7));
  const b2 = four(weighed(C5, y1), weighed(-C1, y3), weighed(C7, y5), weighed(C3, y7));
  const b3 = four(weighed(C7, y1), weighed(-C5, y3), weighed(C3, y5), weighed(-C1, y7));
  v128.store(to, f32x4.add(a0, b0));
  v128.store(to, f32x4.add(a1, b1), 32);
  v128.store(to, f32x4.add(a2, b2), 64);
  v128.store(to, f32x4.add(a3, b3), 96);
  v128.store(to, f32x4.sub(a3, b3), 128);
  v128.store(to, f32x4.sub(a2, b2), 160);
  v128.store(to, f32x4.sub(a1, b1), 192);
  v128.store(to, f32x4.sub(a0, b0), 224);
}

/** Turns 4×4 floats of a block of eight about their diagonal. */
function turn4(from: usize, to: usize): void {
  const a = v128.load(from);
  const b = v128.load(from, 32);
  const c = v128.load(from, 64);
  const d = v128.load(from, 96);
  const low = v128.shuffle<f32>(a, b, 0, 4, 1, 5);
  const high = v128.shuffle<f32>(a, b, 2, 6, 3, 7);
  const lower = v128.shuffle<f32>(c, d, 0, 4, 1, 5);
  const higher = v128.shuffle<f32>(c, d, 2, 6, 3, 7);
  v128.store(to, v128.shuffle<f32>(low, lower, 0, 1, 4, 5));
  v128.store(to, v128.shuffle<f32>(low, lower, 2, 3, 6, 7), 32);
  v128.store(to, v128.shuffle<f32>(high, higher, 0, 1, 4, 5), 64);
  v128.store(to, v128.shuffle<f32>(high, higher, 2, 3, 6, 7), 96);
}

function turn(from: usize, to: usize): void {
  turn4(from, to);
  turn4(from + 16, to + 128);
  turn4(from + 128, to + 16);
  turn4(from + 144, to + 144);
}

/**
 * See treatments/average.ts: takes noise from blocks of 8×8 that overlap by half, by what of their cosine transform
 * stands no higher than `reach` times the noise (Yaroslavsky 1985; weights after Guleryuz 2007).
 * @param noise standard deviation of one frame's noise; that of a sample is this over the root of 1 + its weight
 * @param sum, share planes of nothing; what comes out is `sum` over `share`
 */
export function shrinkBlocks(
  from: usize,
  weight: usize,
  width: i32,
  height: i32,
  noise: f32,
  reach: f32,
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
      for (let r: usize = 0; r < <usize>SIDE; r++) seen += load<f32>(w + r * row + 12);
      const least = (reach * noise) / <f32>Math.sqrt(1 + seen / <f32>SIDE);
      transform4(p, row, WORK);
      transform4(p + 16, row, WORK + 16);
      turn(WORK, HELD);
      transform4(HELD, 32, WORK);
      transform4(HELD + 16, 32, WORK + 16);
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
      back4(WORK, HELD);
      back4(WORK + 16, HELD + 16);
      turn(HELD, WORK);
      back4(WORK, HELD);
      back4(WORK + 16, HELD + 16);
      const k = f32x4.splat(1 / kept);
      for (let r: usize = 0; r < <usize>SIDE; r++)
        for (let c: usize = 0; c < 32; c += 16) {
          const at = <usize>y * row + ((<usize>x) << 2) + r * row + c;
          v128.store(sum + at, f32x4.add(v128.load(sum + at), f32x4.mul(k, v128.load(HELD + (r << 5) + c))));
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

/**
 * `to` = the nearest whole codes to `from` with a share of `here` mixed in, none below nothing or above `top`.
 * @param wide whether codes take two bytes
 */
export function toCodes(
  from: usize,
  here: usize,
  back: f32,
  top: i32,
  count: i32,
  wide: i32,
  to: usize,
): void {
  const backs = f32x4.splat(back);
  const half = f32x4.splat(0.5);
  const nothing = i32x4.splat(0);
  const tops = i32x4.splat(top);
  for (let i: usize = 0; i < (<usize>count) << 2; i += 16) {
    const v = v128.load(from + i);
    const value = f32x4.add(f32x4.add(v, f32x4.mul(backs, f32x4.sub(v128.load(here + i), v))), half);
    const code = i32x4.max_s(nothing, i32x4.min_s(tops, i32x4.trunc_sat_f32x4_s(value)));
    const words = i16x8.narrow_i32x4_u(code, code);
    if (wide) v128.store64_lane(to + (i >> 1), words, 0);
    else v128.store32_lane(to + (i >> 2), i8x16.narrow_i16x8_u(words, words), 0);
  }
}
