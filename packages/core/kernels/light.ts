import { total } from './layout';

/**
 * See measures/flicker/light.ts: linear light of a picture by a table of 65536 codes; NaN where its local mean is darker
 * than `darkest` or `leftOut`, an address or 0, holds a 1.
 */
export function lightOf(
  picture: usize,
  detail: usize,
  leftOut: usize,
  table: usize,
  darkest: f32,
  count: i32,
  to: usize,
): void {
  for (let i: usize = 0; i < <usize>count; i++) {
    const at = i << 2;
    const code = load<f32>(picture + at);
    const out = code - load<f32>(detail + at) < darkest || (leftOut != 0 && load<u8>(leftOut + i) != 0);
    store<f32>(to + at, out ? <f32>NaN : load<f32>(table + ((<usize>(<i32>code)) << 2)));
  }
}

/** A pixel whose light changes by more than this factor is something else that came into its place. */
export const NOT_LIGHT: f32 = 2;

/** Four sums of a tile, 64-bit floats: light before, light after, pixels used, pixels there. */
const SUMS: usize = 32;

/**
 * Sums the light of tiles in both pictures, the second read at the place that the motion gives, bilinear.
 * @param sums at this address for each tile of each band; set to nothing first
 */
export function tileLight(
  before: usize,
  after: usize,
  width: i32,
  height: i32,
  bands: i32,
  columns: i32,
  dx: f64,
  dy: f64,
  zoom: f64,
  turn: f64,
  sums: usize,
): void {
  memory.fill(sums, 0, <usize>(bands * columns) * SUMS);
  for (let y = 0; y < height; y++) {
    const tiles = sums + <usize>(((y * bands) / height) * columns) * SUMS;
    for (let c = 0; c < columns; c++) {
      const from = (c * width + columns - 1) / columns;
      const to = ((c + 1) * width + columns - 1) / columns;
      addRun(before, after, width, height, y, from, to, dx, dy, zoom, turn, tiles + <usize>c * SUMS);
    }
  }
}

function addRun(
  before: usize,
  after: usize,
  width: i32,
  height: i32,
  y: i32,
  from: i32,
  to: i32,
  dx: f64,
  dy: f64,
  zoom: f64,
  turn: f64,
  sums: usize,
): void {
  const cx = <f64>(width - 1) / 2;
  const cy = <f64>(height - 1) / 2;
  const lanes = f32x4(0, 1, 2, 3);
  const zooms = f32x4.mul(lanes, f32x4.splat(<f32>zoom));
  const turns = f32x4.mul(lanes, f32x4.splat(<f32>turn));
  const stride = (<usize>width) << 2;
  const factor = f32x4.splat(NOT_LIGHT);
  let sumBefore = f32x4.splat(0);
  let sumAfter = f32x4.splat(0);
  let used = f32x4.splat(0);
  for (let x = from; x < to; x += 4) {
    const px = <f64>x + dx + zoom * (<f64>x - cx) - turn * (<f64>y - cy);
    const py = <f64>y + dy + turn * (<f64>x - cx) + zoom * (<f64>y - cy);
    const ix = <i32>Math.floor(px);
    const iy = <i32>Math.floor(py);
    if (iy < 0 || iy >= height - 1 || ix + 3 < 0 || ix >= width - 1) continue;
    const fx = f32x4.add(f32x4.splat(<f32>(px - <f64>ix)), zooms);
    const fy = f32x4.add(f32x4.splat(<f32>(py - <f64>iy)), turns);
    const j = after + ((<usize>(iy * width + ix)) << 2);
    const topLeft = v128.load(j);
    const bottomLeft = v128.load(j + stride);
    const top = f32x4.add(topLeft, f32x4.mul(f32x4.sub(v128.load(j + 4), topLeft), fx));
    const bottom = f32x4.add(bottomLeft, f32x4.mul(f32x4.sub(v128.load(j + stride + 4), bottomLeft), fx));
    const b = f32x4.add(top, f32x4.mul(f32x4.sub(bottom, top), fy));
    const a = v128.load(before + ((<usize>(y * width + x)) << 2));
    const at = f32x4.add(lanes, f32x4.splat(<f32>ix));
    let counts = v128.and(f32x4.ge(at, f32x4.splat(0)), f32x4.lt(at, f32x4.splat(<f32>(width - 1))));
    counts = v128.and(counts, f32x4.lt(lanes, f32x4.splat(<f32>(to - x))));
    // What is NaN, clipped or dark, compares as false.
    counts = v128.and(counts, f32x4.lt(b, f32x4.mul(factor, a)));
    counts = v128.and(counts, f32x4.lt(a, f32x4.mul(factor, b)));
    sumBefore = f32x4.add(sumBefore, v128.and(a, counts));
    sumAfter = f32x4.add(sumAfter, v128.and(b, counts));
    used = f32x4.add(used, v128.and(f32x4.splat(1), counts));
  }
  store<f64>(sums, load<f64>(sums) + total(sumBefore));
  store<f64>(sums, load<f64>(sums, 8) + total(sumAfter), 8);
  store<f64>(sums, load<f64>(sums, 16) + total(used), 16);
  store<f64>(sums, load<f64>(sums, 24) + <f64>(to - from), 24);
}
