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
