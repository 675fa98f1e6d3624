import { total } from './layout';

/** Side of a square in which a corner is looked for, pixels: every other row and column of it makes four of each. */
export const SQUARE: i32 = 7;

/**
 * See motion/tiles.ts: squared gradients of squares, summed over every other row and column.
 * @param columns, rows of squares; they begin two pixels inside
 * @param xx, xy, yy addresses of what comes out, one float a square
 */
export function squareGradients(
  from: usize,
  width: i32,
  columns: i32,
  rows: i32,
  xx: usize,
  xy: usize,
  yy: usize,
): void {
  const stride = (<usize>width) << 2;
  for (let row = 0; row < rows; row++)
    for (let column = 0; column < columns; column++) {
      let p = from + ((<usize>((2 + row * SQUARE) * width + 2 + column * SQUARE)) << 2);
      let sxx = f32x4.splat(0);
      let sxy = f32x4.splat(0);
      let syy = f32x4.splat(0);
      for (let v = 0; v < 4; v++, p += 2 * stride) {
        const gx = f32x4.sub(everyOther(p + 4), everyOther(p - 4));
        const gy = f32x4.sub(everyOther(p + stride), everyOther(p - stride));
        sxx = f32x4.add(sxx, f32x4.mul(gx, gx));
        sxy = f32x4.add(sxy, f32x4.mul(gx, gy));
        syy = f32x4.add(syy, f32x4.mul(gy, gy));
      }
      const o = (<usize>(row * columns + column)) << 2;
      store<f32>(xx + o, <f32>total(sxx));
      store<f32>(xy + o, <f32>total(sxy));
      store<f32>(yy + o, <f32>total(syy));
    }
}

function everyOther(p: usize): v128 {
  return v128.shuffle<f32>(v128.load(p), v128.load(p + 16), 0, 2, 4, 6);
}
