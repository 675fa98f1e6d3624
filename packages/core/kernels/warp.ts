// A picture read between its samples along a line. Planes of floats with a margin all round, strides in samples.

import { BEFORE, TAPS } from './blocks';

/** Places between two samples for which there are weights, the last like the first of the next; eight floats each. */
export const PHASES: i32 = 256;

/**
 * See treatments/warp.ts: one row of a new picture.
 * @param from address of the first sample of the old picture, inside its margin of four samples and more
 * @param x, y place of the first sample in the old picture; dx, dy one step along the row
 * @param weights of the filter, six and two of nothing for each phase
 * @param to address of the row
 */
export function warpRow(
  from: usize,
  stride: i32,
  width: i32,
  height: i32,
  x: f64,
  y: f64,
  dx: f64,
  dy: f64,
  count: i32,
  weights: usize,
  to: usize,
): void {
  const row = (<usize>stride) << 2;
  const right = <f64>width;
  const bottom = <f64>height;
  for (let i = 0; i < count; i++) {
    const px = min(right, max(-1.0, x + dx * <f64>i));
    const py = min(bottom, max(-1.0, y + dy * <f64>i));
    const ix = floor(px);
    const iy = floor(py);
    const across = weights + ((<usize>nearest((px - ix) * <f64>PHASES)) << 5);
    const down = weights + ((<usize>nearest((py - iy) * <f64>PHASES)) << 5);
    const first = v128.load(across);
    const second = v128.load(across, 16);
    let p = from + <usize>(((<i32>iy - BEFORE) * stride + <i32>ix - BEFORE) << 2);
    let sum = f32x4.splat(0);
    for (let r: usize = 0; r < <usize>TAPS; r++, p += row)
      sum = f32x4.add(
        sum,
        f32x4.mul(
          v128.load32_splat(down + (r << 2)),
          f32x4.add(f32x4.mul(first, v128.load(p)), f32x4.mul(second, v128.load(p, 16))),
        ),
      );
    store<f32>(
      to + ((<usize>i) << 2),
      f32x4.extract_lane(sum, 0) +
        f32x4.extract_lane(sum, 1) +
        f32x4.extract_lane(sum, 2) +
        f32x4.extract_lane(sum, 3),
    );
  }
}
