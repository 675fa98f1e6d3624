// Planes of full-size frames: samples of 16 bits, row by row.

import { OUT } from './layout';

function word(at: usize): i32 {
  return <i32>load<u16>(at);
}

/** The samples at even places of eight, as they lie in two rows' middle and in those beside: weights 1 3 3 1. */
function evens(a: usize, b: usize, c: usize, d: usize, x: usize): v128 {
  const low = i32x4.splat(0xffff);
  const middle = i32x4.add(v128.and(v128.load(b + x), low), v128.and(v128.load(c + x), low));
  const beside = i32x4.add(v128.and(v128.load(a + x), low), v128.and(v128.load(d + x), low));
  return i32x4.add(beside, i32x4.mul(middle, i32x4.splat(3)));
}

/** The same of the samples at odd places. */
function odds(a: usize, b: usize, c: usize, d: usize, x: usize): v128 {
  const middle = i32x4.add(i32x4.shr_u(v128.load(b + x), 16), i32x4.shr_u(v128.load(c + x), 16));
  const beside = i32x4.add(i32x4.shr_u(v128.load(a + x), 16), i32x4.shr_u(v128.load(d + x), 16));
  return i32x4.add(beside, i32x4.mul(middle, i32x4.splat(3)));
}

function down(a: usize, b: usize, c: usize, d: usize, x: i32, width: i32): i32 {
  const i = (<usize>max(0, min(width - 1, x))) << 1;
  return word(a + i) + 3 * (word(b + i) + word(c + i)) + word(d + i);
}

/** See measures/moire/half.ts: halves a plane, weights 1 3 3 1 each way; sums of 64 are shifted by `shift` bits. */
export function halveWide(from: usize, width: i32, height: i32, to: usize, shift: i32): void {
  const w = max(1, width >> 1);
  const h = max(1, height >> 1);
  const stride = (<usize>width) << 1;
  const round: i32 = 1 << (shift - 1);
  for (let y = 0; y < h; y++) {
    const a = from + <usize>max(0, 2 * y - 1) * stride;
    const b = from + <usize>(2 * y) * stride;
    const c = from + <usize>min(height - 1, 2 * y + 1) * stride;
    const d = from + <usize>min(height - 1, 2 * y + 2) * stride;
    const row = to + ((<usize>(y * w)) << 1);
    for (let x = 1; x + 4 < w; x += 4) {
      const i = (<usize>x) << 2;
      const middle = i32x4.add(evens(a, b, c, d, i), odds(a, b, c, d, i));
      const beside = i32x4.add(odds(a, b, c, d, i - 4), evens(a, b, c, d, i + 4));
      const sum = i32x4.add(beside, i32x4.mul(middle, i32x4.splat(3)));
      const mean = i32x4.shr_u(i32x4.add(sum, i32x4.splat(round)), shift);
      v128.store64_lane(row + ((<usize>x) << 1), i16x8.narrow_i32x4_u(mean, mean), 0);
    }
    // The ends of the row, where the last sample stands for those beyond.
    for (let x = 0; x < w; x++) {
      if (x == 1) x = max(1, w - 5);
      const sum =
        down(a, b, c, d, 2 * x - 1, width) +
        3 * (down(a, b, c, d, 2 * x, width) + down(a, b, c, d, 2 * x + 1, width)) +
        down(a, b, c, d, 2 * x + 2, width);
      store<u16>(row + ((<usize>x) << 1), <u16>((sum + round) >> shift));
    }
  }
}

function highest(p: usize, stride: usize): v128 {
  const above = i16x8.max_u(
    v128.load(p - stride - 2),
    i16x8.max_u(v128.load(p - stride), v128.load(p - stride + 2)),
  );
  const below = i16x8.max_u(
    v128.load(p + stride - 2),
    i16x8.max_u(v128.load(p + stride), v128.load(p + stride + 2)),
  );
  return i16x8.max_u(i16x8.max_u(above, below), i16x8.max_u(v128.load(p - 2), v128.load(p + 2)));
}

function lowest(p: usize, stride: usize): v128 {
  const above = i16x8.min_u(
    v128.load(p - stride - 2),
    i16x8.min_u(v128.load(p - stride), v128.load(p - stride + 2)),
  );
  const below = i16x8.min_u(
    v128.load(p + stride - 2),
    i16x8.min_u(v128.load(p + stride), v128.load(p + stride + 2)),
  );
  return i16x8.min_u(i16x8.min_u(above, below), i16x8.min_u(v128.load(p - 2), v128.load(p + 2)));
}

/**
 * Mean of the eight samples at distance two, each rounded up on its way: at least the mean, and less than one and a half
 * codes above it.
 */
function meanAtTwo(p: usize, stride: usize): v128 {
  const up = p - 2 * stride;
  const down = p + 2 * stride;
  return i16x8.avgr_u(
    i16x8.avgr_u(
      i16x8.avgr_u(v128.load(p - 4), v128.load(p + 4)),
      i16x8.avgr_u(v128.load(up), v128.load(down)),
    ),
    i16x8.avgr_u(
      i16x8.avgr_u(v128.load(up - 4), v128.load(up + 4)),
      i16x8.avgr_u(v128.load(down - 4), v128.load(down + 4)),
    ),
  );
}

/** Eight times the contrast of a sample with the eight at distance two. */
function contrast8(p: usize, stride: usize): i32 {
  const up = p - 2 * stride;
  const down = p + 2 * stride;
  return (
    8 * word(p) -
    (word(p - 4) +
      word(p + 4) +
      word(up) +
      word(down) +
      word(up - 4) +
      word(up + 4) +
      word(down - 4) +
      word(down + 4))
  );
}

/**
 * See measures/hot-pixels/faulty-pixels/impulses.ts: of one row of a plane, which samples are the extreme of the nine about
 * them, stand out along the row by `few` and all round by `threshold`. Writes their offsets at `out`; how many there are.
 * @param count samples from `row` on; two more lie on every side
 */
export function impulsesInRow(
  row: usize,
  stride: usize,
  count: i32,
  few: f64,
  threshold: f64,
  out: usize,
): i32 {
  const least = i16x8.splat(<i16>max(0, Math.ceil(few / 2 - 0.5)));
  const threshold8 = 8 * threshold;
  // What is rounded up makes a bright one less, and a dark one more: this far off at most.
  const leastAbove = i16x8.splat(<i16>max(0, Math.ceil(threshold - 1.5)));
  const leastBelow = i16x8.splat(<i16>max(0, Math.ceil(threshold)));
  let found = 0;
  for (let x = 0; x < count; x += 8) {
    const p = row + ((<usize>x) << 1);
    const here = v128.load(p);
    // Most pixels of a noisy picture fall here, eight at a time.
    const about = meanAtTwo(p, stride);
    let up = i16x8.ge_u(i16x8.sub_sat_u(here, about), leastAbove);
    let under = i16x8.ge_u(i16x8.sub_sat_u(about, here), leastBelow);
    if (!v128.any_true(v128.or(up, under))) continue;
    const beside = i16x8.avgr_u(v128.load(p - 4), v128.load(p + 4));
    up = v128.and(up, i16x8.ge_u(i16x8.sub_sat_u(here, beside), least));
    under = v128.and(under, i16x8.ge_u(i16x8.sub_sat_u(beside, here), least));
    if (!v128.any_true(v128.or(up, under))) continue;
    const bright = v128.and(up, i16x8.eq(here, i16x8.max_u(here, highest(p, stride))));
    const dark = v128.and(under, i16x8.eq(here, i16x8.min_u(here, lowest(p, stride))));
    const brights = i16x8.bitmask(bright);
    let either = brights | i16x8.bitmask(dark);
    while (either != 0) {
      const lane = ctz(either);
      either &= either - 1;
      if (x + lane >= count) break;
      const at = p + ((<usize>lane) << 1);
      const along = <f64>(2 * word(at) - word(at - 4) - word(at + 4));
      const d = <f64>contrast8(at, stride);
      const stands =
        (brights >> lane) & 1 ? along >= few && d >= threshold8 : along <= -few && d <= -threshold8;
      if (!stands) continue;
      store<i32>(out + ((<usize>found) << 2), x + lane);
      found++;
    }
  }
  return found;
}

/**
 * See measures/banding/banding.ts: sums of squares of `factor` × `factor` samples, and of the differences from each of
 * their samples to the one on its right.
 * @param from plane of samples, `across` in a row; one more than `factor × width` of them at least
 * @param sums, differences address of `width` × `height` 32-bit whole numbers each
 * @param work room for a row of 32-bit whole numbers of each kind
 */
export function squareSums(
  from: usize,
  across: i32,
  width: i32,
  height: i32,
  factor: i32,
  sums: usize,
  differences: usize,
  work: usize,
): void {
  const used = factor * width;
  const besides = work + ((<usize>(used + 8)) << 2);
  for (let y = 0; y < height; y++) {
    for (let v = 0; v < factor; v++) {
      const row = from + ((<usize>((y * factor + v) * across)) << 1);
      for (let x = 0; x < used; x += 4) {
        const p = row + ((<usize>x) << 1);
        const o = (<usize>x) << 2;
        const here = v128.load16x4_u(p);
        const beside = i32x4.abs(i32x4.sub(v128.load16x4_u(p + 2), here));
        v128.store(work + o, v == 0 ? here : i32x4.add(v128.load(work + o), here));
        v128.store(besides + o, v == 0 ? beside : i32x4.add(v128.load(besides + o), beside));
      }
    }
    for (let x = 0, i = 0; x < width; x++) {
      let sum = 0;
      let difference = 0;
      for (const end = i + factor; i < end; i++) {
        sum += load<i32>(work + ((<usize>i) << 2));
        difference += load<i32>(besides + ((<usize>i) << 2));
      }
      const at = (<usize>(y * width + x)) << 2;
      store<i32>(sums + at, sum);
      store<i32>(differences + at, difference);
    }
  }
}

function slope(at: usize, by: usize): i32 {
  return word(at + 2 * by) - word(at - 2 * by) + word(at + by) - word(at - by);
}

/**
 * See measures/softness/edges.ts: the steepest place of a cell, every other row and column, over a base line of four
 * samples. Two samples more lie on every side.
 * @returns its place in the plane, -1 where all is flat; the square of its slope, codes, at OUT
 */
export function steepestOf(from: usize, width: i32, left: i32, right: i32, top: i32, bottom: i32): i32 {
  const stride = (<usize>width) << 1;
  let best: i64 = 0;
  let place = -1;
  for (let y = top; y < bottom; y += 2)
    for (let x = left; x < right; x += 2) {
      const at = from + ((<usize>(y * width + x)) << 1);
      const across = <i64>slope(at, 2);
      const down = <i64>slope(at, stride);
      const square = across * across + down * down;
      if (square <= best) continue;
      best = square;
      place = y * width + x;
    }
  store<f64>(OUT, <f64>best);
  return place;
}
