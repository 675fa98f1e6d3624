// What most of several looks at a place agree on, four places at a time.

/** Values of the looks at four places, one vector a look. */
const VALUES: usize = 1024;
/** As many looks as there is room for. */
export const MOST_LOOKS: i32 = 32;
/** A look that does not know a place. */
export const UNKNOWN: i32 = -128;

/**
 * See measures/hot-pixels/lens-spots/usual.ts: one round of it.
 * @param looks steps of the looks, a byte a place, one look of `places` bytes after the other
 * @param moves for each look how many bytes away in `before` the place lies that is added back
 * @param pairs of byte offsets of vectors, which put so many looks in order when compared one after the other
 * @param before, to addresses of the first place; rows of `stride` floats, of which `width` are places
 * @param least looks that must know a place
 */
export function usualOf(
  looks: usize,
  places: usize,
  count: i32,
  moves: usize,
  pairs: usize,
  pairCount: i32,
  width: i32,
  height: i32,
  stride: i32,
  before: usize,
  to: usize,
  step: f32,
  least: i32,
): void {
  const steps = f32x4.splat(step);
  const unknown = i32x4.splat(UNKNOWN);
  const beyond = f32x4.splat(f32.MAX_VALUE);
  const row = (<usize>stride) << 2;
  for (let y = 0; y < height; y++, before += row, to += row)
    for (let x = 0; x < width; x += 4) {
      let from = looks + <usize>(y * width + x);
      const at = before + ((<usize>x) << 2);
      let known = i32x4.splat(0);
      for (let k = 0; k < count; k++, from += places) {
        const look = i32x4.extend_low_i16x8_s(i16x8.extend_low_i8x16_s(v128.load32_zero(from)));
        const knows = i32x4.ne(look, unknown);
        known = i32x4.sub(known, knows);
        const lay = v128.load(at + <usize>load<i32>(moves + ((<usize>k) << 2)));
        const value = f32x4.add(f32x4.mul(f32x4.convert_i32x4_s(look), steps), lay);
        v128.store(VALUES + ((<usize>k) << 4), v128.bitselect(value, beyond, knows));
      }
      inOrder(pairs, pairCount);
      const middle = i32x4.shr_u(known, 1);
      const usual = v128.and(atPlaces(middle, count), i32x4.ge_s(known, i32x4.splat(least)));
      const o = to + ((<usize>x) << 2);
      if (x + 4 <= width) v128.store(o, usual);
      else {
        store<f32>(o, f32x4.extract_lane(usual, 0));
        if (x + 1 < width) store<f32>(o, f32x4.extract_lane(usual, 1), 4);
        if (x + 2 < width) store<f32>(o, f32x4.extract_lane(usual, 2), 8);
      }
    }
}

/** Puts the values of each of the four places in order. */
function inOrder(pairs: usize, count: i32): void {
  for (const end = pairs + ((<usize>count) << 3); pairs < end; pairs += 8) {
    const low = VALUES + <usize>load<i32>(pairs);
    const high = VALUES + <usize>load<i32>(pairs, 4);
    const a = v128.load(low);
    const b = v128.load(high);
    v128.store(low, f32x4.pmin(a, b));
    v128.store(high, f32x4.pmax(a, b));
  }
}

/** The value of each of the four places that stands where it is asked for. */
function atPlaces(index: v128, count: i32): v128 {
  const a = valueAt(i32x4.extract_lane(index, 0), count, 0);
  const b = valueAt(i32x4.extract_lane(index, 1), count, 4);
  const c = valueAt(i32x4.extract_lane(index, 2), count, 8);
  const d = valueAt(i32x4.extract_lane(index, 3), count, 12);
  return f32x4.replace_lane(f32x4.replace_lane(f32x4.replace_lane(f32x4.splat(a), 1, b), 2, c), 3, d);
}

function valueAt(index: i32, count: i32, lane: usize): f32 {
  return load<f32>(VALUES + ((<usize>min(index, count - 1)) << 4) + lane);
}
