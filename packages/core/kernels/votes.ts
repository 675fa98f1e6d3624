import { total } from './layout';

/** Numbers of a tile's vote: where it went, x and y; how well it knows that, in x, across twice and in y; what it counts. */
export const VOTE: i32 = 6;

/**
 * See motion/camera.ts: what the tiles count together that a translation puts where they were found.
 * @param votes 64-bit floats, `VOTE` a tile
 * @param reach square of how far off a tile may be, in its own measure
 */
export function supportOf(votes: usize, count: i32, x: f64, y: f64, reach: f64): f64 {
  let sum: f64 = 0;
  for (const end = votes + <usize>count * 8 * VOTE; votes < end; votes += 8 * VOTE) {
    const rx = load<f64>(votes) - x;
    const ry = load<f64>(votes, 8) - y;
    const off =
      load<f64>(votes, 16) * rx * rx + load<f64>(votes, 24) * rx * ry + load<f64>(votes, 32) * ry * ry;
    if (off <= reach) sum += load<f64>(votes, 40);
  }
  return sum;
}

/**
 * See motion/votes.ts: correlation of a tile of one picture with another one at each whole-pixel shift about one, both free of
 * their mean.
 * @param a, b addresses of the pictures; the shifted tile lies inside
 * @param right, bottom outside the tile
 * @param dx, dy the shift in the middle
 * @param reach pixels on each side of it
 * @param rowStep every so many rows are looked at
 * @param to (2 · reach + 1)² 64-bit floats, row by row
 */
export function correlations(
  a: usize,
  widthA: i32,
  b: usize,
  widthB: i32,
  left: i32,
  right: i32,
  top: i32,
  bottom: i32,
  dx: i32,
  dy: i32,
  reach: i32,
  rowStep: i32,
  to: usize,
): void {
  const vectors = (right - left) & ~3;
  const rest = right - left - vectors;
  for (let v = dy - reach; v <= dy + reach; v++)
    for (let u = dx - reach; u <= dx + reach; u++, to += 8) {
      let ab = f32x4.splat(0);
      let aa = f32x4.splat(0);
      let bb = f32x4.splat(0);
      let restAB: f64 = 0;
      let restAA: f64 = 1e-9;
      let restBB: f64 = 1e-9;
      for (let y = top; y < bottom; y += rowStep) {
        let p = a + ((<usize>(y * widthA + left)) << 2);
        let q = b + ((<usize>((y + v) * widthB + left + u)) << 2);
        for (const end = p + ((<usize>vectors) << 2); p < end; p += 16, q += 16) {
          const one = v128.load(p);
          const other = v128.load(q);
          ab = f32x4.add(ab, f32x4.mul(one, other));
          aa = f32x4.add(aa, f32x4.mul(one, one));
          bb = f32x4.add(bb, f32x4.mul(other, other));
        }
        for (let i = 0; i < rest; i++, p += 4, q += 4) {
          const one = <f64>load<f32>(p);
          const other = <f64>load<f32>(q);
          restAB += one * other;
          restAA += one * one;
          restBB += other * other;
        }
      }
      store<f64>(to, (restAB + total(ab)) / Math.sqrt((restAA + total(aa)) * (restBB + total(bb))));
    }
}
