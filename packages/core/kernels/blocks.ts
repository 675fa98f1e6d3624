// Blocks of full-size frames, set against the same place of the frame after. Planes of 16-bit words, strides in samples.

/** Side of a block of luma, and of a cell of it, pixels. */
export const BLOCK: i32 = 16;
export const CELL: i32 = 4;
const CELLS: i32 = BLOCK / CELL;

function four(at: usize): v128 {
  return v128.load16x4_u(at);
}

function sum4(v: v128): i32 {
  return (
    i32x4.extract_lane(v, 0) + i32x4.extract_lane(v, 1) + i32x4.extract_lane(v, 2) + i32x4.extract_lane(v, 3)
  );
}

/**
 * See measures/noise/pair.ts: sums of a block in both frames. Whole numbers at `out`: how many samples are clipped; sums of
 * the rows in the first and then in the second frame; sums of both frames over cells of 4×4.
 */
export function blockSums(
  first: usize,
  firstStride: i32,
  second: usize,
  secondStride: i32,
  low: i32,
  high: i32,
  out: usize,
): void {
  const lows = i32x4.splat(low);
  const highs = i32x4.splat(high);
  let clipped = i32x4.splat(0);
  const rowsFirst = out + 4;
  const rowsSecond = rowsFirst + ((<usize>BLOCK) << 2);
  const cells = rowsSecond + ((<usize>BLOCK) << 2);
  memory.fill(cells, 0, (<usize>(CELLS * CELLS)) << 2);
  for (let r = 0; r < BLOCK; r++) {
    const p = first + ((<usize>(r * firstStride)) << 1);
    const q = second + ((<usize>(r * secondStride)) << 1);
    const row = cells + ((<usize>((r / CELL) * CELLS)) << 2);
    let before = i32x4.splat(0);
    let after = i32x4.splat(0);
    for (let c: usize = 0; c < <usize>CELLS; c++) {
      const a = four(p + (c << 3));
      const b = four(q + (c << 3));
      before = i32x4.add(before, a);
      after = i32x4.add(after, b);
      // A comparison that holds is −1.
      clipped = i32x4.sub(clipped, v128.or(i32x4.le_s(a, lows), i32x4.ge_s(a, highs)));
      clipped = i32x4.sub(clipped, v128.or(i32x4.le_s(b, lows), i32x4.ge_s(b, highs)));
      const cell = row + (c << 2);
      store<i32>(cell, load<i32>(cell) + sum4(i32x4.add(a, b)));
    }
    store<i32>(rowsFirst + ((<usize>r) << 2), sum4(before));
    store<i32>(rowsSecond + ((<usize>r) << 2), sum4(after));
  }
  store<i32>(out, sum4(clipped));
}

/** Weights of the resampling filter, and how many of them lie before the sample. */
export const TAPS: i32 = 6;
export const BEFORE: i32 = TAPS / 2 - 1;
const SCRATCH: usize = 1024;

/**
 * See measures/noise/block-noise.ts: a block of the second frame, read between its samples, less that of the first.
 * @param first, second addresses of the block's first sample
 * @param taps 2 × 6 weights, floats: along rows, then down columns
 * @param gains what the second frame's rows are multiplied with, floats
 * @param width a multiple of 4, 16 at most, as is the height
 * @param black code of no signal in the first, which the second's gain leaves alone
 * @param to receives `scale` times the difference, 64-bit floats, row by row
 */
export function movedDifference(
  first: usize,
  firstStride: i32,
  second: usize,
  secondStride: i32,
  taps: usize,
  gains: usize,
  width: i32,
  height: i32,
  black: f32,
  scale: f32,
  to: usize,
): void {
  const across = (<usize>width) << 2;
  let p = second - ((<usize>(BEFORE * secondStride + BEFORE)) << 1);
  for (let r = 0; r < height + TAPS - 1; r++, p += (<usize>secondStride) << 1)
    for (let c = 0; c < width; c += 4) {
      let sum = f32x4.splat(0);
      for (let k = 0; k < TAPS; k++)
        sum = f32x4.add(
          sum,
          f32x4.mul(
            v128.load32_splat(taps + ((<usize>k) << 2)),
            f32x4.convert_i32x4_u(four(p + ((<usize>(c + k)) << 1))),
          ),
        );
      v128.store(SCRATCH + <usize>r * across + ((<usize>c) << 2), sum);
    }
  const blacks = f32x4.splat(black);
  const scales = f32x4.splat(scale);
  for (let r = 0; r < height; r++) {
    const gain = v128.load32_splat(gains + ((<usize>r) << 2));
    for (let c = 0; c < width; c += 4) {
      const column = SCRATCH + <usize>r * across + ((<usize>c) << 2);
      let moved = f32x4.splat(0);
      for (let k = 0; k < TAPS; k++)
        moved = f32x4.add(
          moved,
          f32x4.mul(
            v128.load32_splat(taps + ((<usize>(TAPS + k)) << 2)),
            v128.load(column + <usize>k * across),
          ),
        );
      const here = f32x4.convert_i32x4_u(four(first + ((<usize>(r * firstStride + c)) << 1)));
      const d = f32x4.mul(
        scales,
        f32x4.sub(f32x4.mul(f32x4.sub(moved, blacks), gain), f32x4.sub(here, blacks)),
      );
      const at = to + ((<usize>(r * width + c)) << 3);
      v128.store(at, f64x2.promote_low_f32x4(d));
      v128.store(at + 16, f64x2.promote_low_f32x4(v128.shuffle<f32>(d, d, 2, 3, 2, 3)));
    }
  }
}
