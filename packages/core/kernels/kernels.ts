// AssemblyScript: the loops that touch every pixel of every frame, four pixels at a time. Compiled by `npm run kernels`
// into src/kernels/compiled.ts. Pictures are float samples, row by row, at a byte address that the caller chooses from
// FREE on; what lies below is scratch. Each function has a plain counterpart in core/src, which its tests compare it with.

import { OUT, total } from './layout';

export { OUT, FREE } from './layout';
export { BLOCK, CELL, TAPS, blockSums, movedDifference } from './blocks';
export { halveWide, impulsesInRow, squareSums, steepestOf } from './words';
export { lightOf, tileLight } from './light';
export { SQUARE, squareGradients } from './corners';
export { VOTE, correlations, supportOf } from './votes';
export { pairSpectrum, underWindow } from './spectrum';
export { MOST_LOOKS, UNKNOWN, usualOf } from './usual';

/** What is known of tiles is known here: the plain counterpart reads these. Side of a tile, pixels; even. */
export const TILE: i32 = 14;
const PIXELS: f64 = TILE * TILE;
/** A tile's row takes 16 places; the last two are kept at nothing. */
const ROW: usize = 64;
const TEMPLATE: usize = 1024;
const GRADIENT_X: usize = 2048;
const GRADIENT_Y: usize = 3072;
const MOVED: usize = 4096;
export const MOST_STEPS: i32 = 5;
export const MOST_STEPS_CROSSED: i32 = 6;
export const SETTLED: f64 = 0.012;
/** Share of the larger slope that steadies a step, and the longest step behind the first, pixels. */
export const STEADIED: f64 = 0.01;
export const LONGEST: f64 = 1.5;
/** Less of the slope than this, seen in both pictures, is none. */
export const LEAST_SEEN: f64 = 0.05;
export const LOST: f64 = 5;
export const LOST_CROSSED: f64 = 6.5;
export const LEAST_LIKENESS: f64 = 0.6;
export const SURE: f64 = 0.04;
export const MOST_UNSURE: f64 = 0.2;
export const DARK: f64 = 1500;

function gainOf(before: f64, after: f64): f64 {
  return before < DARK || after < DARK ? 1 : max(0.5, min(2, after / before));
}

/** Columns of a tile that have a neighbour on both sides, of the first four and the last four of its row. */
const FROM_SECOND: v128 = i32x4(0, -1, -1, -1);
const TO_LAST_BUT_ONE: v128 = i32x4(-1, 0, 0, 0);
const INNER: f64 = (TILE - 2) * (TILE - 2);
let crossXX: f64 = 0;
let crossXY: f64 = 0;
let crossYY: f64 = 0;

/** Slopes of the tile with those of what was found: the noise of one picture is not that of the other, and adds nothing. */
function crossSlopes(gain: f64): void {
  const half = f32x4.splat(0.5);
  let xx = f32x4.splat(0);
  let xy = f32x4.splat(0);
  let yy = f32x4.splat(0);
  let sumTX = f32x4.splat(0);
  let sumTY = f32x4.splat(0);
  let sumMX = f32x4.splat(0);
  let sumMY = f32x4.splat(0);
  for (let r = 1; r < TILE - 1; r++) {
    let o = <usize>r * ROW;
    for (let k = 0; k < 4; k++, o += 16) {
      let tx = v128.load(GRADIENT_X + o);
      let ty = v128.load(GRADIENT_Y + o);
      let mx = f32x4.mul(half, f32x4.sub(v128.load(MOVED + o + 4), v128.load(MOVED + o - 4)));
      let my = f32x4.mul(half, f32x4.sub(v128.load(MOVED + o + ROW), v128.load(MOVED + o - ROW)));
      if (k == 0 || k == 3) {
        const inner = k == 0 ? FROM_SECOND : TO_LAST_BUT_ONE;
        tx = v128.and(tx, inner);
        ty = v128.and(ty, inner);
        mx = v128.and(mx, inner);
        my = v128.and(my, inner);
      }
      xx = f32x4.add(xx, f32x4.mul(tx, mx));
      xy = f32x4.add(xy, f32x4.add(f32x4.mul(tx, my), f32x4.mul(ty, mx)));
      yy = f32x4.add(yy, f32x4.mul(ty, my));
      sumTX = f32x4.add(sumTX, tx);
      sumTY = f32x4.add(sumTY, ty);
      sumMX = f32x4.add(sumMX, mx);
      sumMY = f32x4.add(sumMY, my);
    }
  }
  const aX = total(sumTX);
  const aY = total(sumTY);
  const bX = total(sumMX);
  const bY = total(sumMY);
  const scale = PIXELS / INNER / gain;
  crossXX = scale * (total(xx) - (aX * bX) / INNER);
  crossXY = scale * 0.5 * (total(xy) - (aX * bY + aY * bX) / INNER);
  crossYY = scale * (total(yy) - (aY * bY) / INNER);
}

function largerOf(xx: f64, xy: f64, yy: f64): f64 {
  const half = (xx - yy) / 2;
  return (xx + yy) / 2 + Math.sqrt(half * half + xy * xy);
}

/** See motion/tiles.ts: follows one tile of picture `a` into `b`; 1 where it was found, with dx, dy, xx, xy, yy at OUT. */
export function followTile(
  a: usize,
  b: usize,
  width: i32,
  height: i32,
  left: i32,
  top: i32,
  firstDx: f64,
  firstDy: f64,
  black: f64,
  crossed: i32,
): i32 {
  const inside = i32x4(-1, -1, 0, 0);
  const half = f32x4.splat(0.5);
  const stride = (<usize>width) << 2;
  let sum = f32x4.splat(0);
  let sumX = f32x4.splat(0);
  let sumY = f32x4.splat(0);
  for (let r = 0; r < TILE; r++) {
    let p = a + ((<usize>((top + r) * width + left)) << 2);
    let o = <usize>r * ROW;
    for (let k = 0; k < 4; k++, p += 16, o += 16) {
      let s = v128.load(p);
      let gx = f32x4.mul(half, f32x4.sub(v128.load(p + 4), v128.load(p - 4)));
      let gy = f32x4.mul(half, f32x4.sub(v128.load(p + stride), v128.load(p - stride)));
      if (k == 3) {
        s = v128.and(s, inside);
        gx = v128.and(gx, inside);
        gy = v128.and(gy, inside);
      }
      v128.store(TEMPLATE + o, s);
      v128.store(GRADIENT_X + o, gx);
      v128.store(GRADIENT_Y + o, gy);
      sum = f32x4.add(sum, s);
      sumX = f32x4.add(sumX, gx);
      sumY = f32x4.add(sumY, gy);
    }
  }
  const mean = total(sum) / PIXELS;
  const means = f32x4.splat(<f32>mean);
  const meanX = f32x4.splat(<f32>(total(sumX) / PIXELS));
  const meanY = f32x4.splat(<f32>(total(sumY) / PIXELS));
  let vxx = f32x4.splat(0);
  let vxy = f32x4.splat(0);
  let vyy = f32x4.splat(0);
  let vtx = f32x4.splat(0);
  let vty = f32x4.splat(0);
  let vtt = f32x4.splat(0);
  for (let r = 0; r < TILE; r++) {
    let o = <usize>r * ROW;
    for (let k = 0; k < 4; k++, o += 16) {
      let t = f32x4.sub(v128.load(TEMPLATE + o), means);
      let gx = f32x4.sub(v128.load(GRADIENT_X + o), meanX);
      let gy = f32x4.sub(v128.load(GRADIENT_Y + o), meanY);
      if (k == 3) {
        t = v128.and(t, inside);
        gx = v128.and(gx, inside);
        gy = v128.and(gy, inside);
      }
      v128.store(TEMPLATE + o, t);
      v128.store(GRADIENT_X + o, gx);
      v128.store(GRADIENT_Y + o, gy);
      vxx = f32x4.add(vxx, f32x4.mul(gx, gx));
      vxy = f32x4.add(vxy, f32x4.mul(gx, gy));
      vyy = f32x4.add(vyy, f32x4.mul(gy, gy));
      vtx = f32x4.add(vtx, f32x4.mul(gx, t));
      vty = f32x4.add(vty, f32x4.mul(gy, t));
      vtt = f32x4.add(vtt, f32x4.mul(t, t));
    }
  }
  let xx = total(vxx);
  let xy = total(vxy);
  let yy = total(vyy);
  const tx = total(vtx);
  const ty = total(vty);
  const aa = total(vtt);
  const own = largerOf(xx, xy, yy);
  if (!(own > 0)) return 0;
  let largest = own;
  let dx = firstDx;
  let dy = firstDy;
  let sumM: f64 = 0;
  const most = crossed ? MOST_STEPS_CROSSED : MOST_STEPS;
  const lost = crossed ? LOST_CROSSED : LOST;
  for (let step = 0; step < most; step++) {
    const x = <f64>left + dx;
    const y = <f64>top + dy;
    const ix = <i32>Math.floor(x);
    const iy = <i32>Math.floor(y);
    if (ix < 0 || iy < 0 || ix + TILE >= width || iy + TILE >= height) return 0;
    const fx = x - <f64>ix;
    const fy = y - <f64>iy;
    const w11 = f32x4.splat(<f32>(fx * fy));
    const w10 = f32x4.splat(<f32>(fx - fx * fy));
    const w01 = f32x4.splat(<f32>(fy - fx * fy));
    const w00 = f32x4.splat(<f32>(1 - fx - fy + fx * fy));
    let vgx = f32x4.splat(0);
    let vgy = f32x4.splat(0);
    let vm = f32x4.splat(0);
    for (let r = 0; r < TILE; r++) {
      let p = b + ((<usize>((iy + r) * width + ix)) << 2);
      let o = <usize>r * ROW;
      for (let k = 0; k < 4; k++, p += 16, o += 16) {
        let m = f32x4.add(
          f32x4.add(f32x4.mul(w00, v128.load(p)), f32x4.mul(w10, v128.load(p + 4))),
          f32x4.add(f32x4.mul(w01, v128.load(p + stride)), f32x4.mul(w11, v128.load(p + stride + 4))),
        );
        // Free of the template's mean: what is left is small, and few bits are lost.
        m = f32x4.sub(m, means);
        if (k == 3) m = v128.and(m, inside);
        v128.store(MOVED + o, m);
        vgx = f32x4.add(vgx, f32x4.mul(v128.load(GRADIENT_X + o), m));
        vgy = f32x4.add(vgy, f32x4.mul(v128.load(GRADIENT_Y + o), m));
        vm = f32x4.add(vm, m);
      }
    }
    sumM = total(vm);
    const gain = gainOf(mean - black, sumM / PIXELS + mean - black);
    const gx = total(vgx) / gain - tx;
    const gy = total(vgy) / gain - ty;
    const across = crossed != 0 && step > 0;
    if (across) {
      crossSlopes(gain);
      // Slopes that only noise had can come out below nothing.
      const below = max(0, largerOf(crossXX, crossXY, crossYY) - crossXX - crossYY);
      xx = crossXX + below;
      xy = crossXY;
      yy = crossYY + below;
      largest = largerOf(xx, xy, yy);
      if (largest < LEAST_SEEN * own) return 0;
    }
    const axx = xx + STEADIED * largest;
    const ayy = yy + STEADIED * largest;
    const det = axx * ayy - xy * xy;
    let sx = (ayy * gx - xy * gy) / det;
    let sy = (axx * gy - xy * gx) / det;
    const length = Math.sqrt(sx * sx + sy * sy);
    if (across && length > LONGEST) {
      sx *= LONGEST / length;
      sy *= LONGEST / length;
    }
    dx -= sx;
    dy -= sy;
    if (Math.abs(dx - firstDx) > lost || Math.abs(dy - firstDy) > lost) return 0;
    if ((across || !crossed) && Math.abs(sx) + Math.abs(sy) < SETTLED) break;
  }
  const meanM = f32x4.splat(<f32>(sumM / PIXELS));
  let vab = f32x4.splat(0);
  let vbb = f32x4.splat(0);
  for (let r = 0; r < TILE; r++) {
    let o = <usize>r * ROW;
    for (let k = 0; k < 4; k++, o += 16) {
      let m = f32x4.sub(v128.load(MOVED + o), meanM);
      if (k == 3) m = v128.and(m, inside);
      vab = f32x4.add(vab, f32x4.mul(v128.load(TEMPLATE + o), m));
      vbb = f32x4.add(vbb, f32x4.mul(m, m));
    }
  }
  const ab = total(vab);
  const bb = total(vbb);
  if (ab / Math.sqrt(aa * bb + 1e-9) < LEAST_LIKENESS) return 0;
  const unexplained = max(0, bb - (ab * ab) / (aa + 1e-9));
  const unsure = Math.sqrt(unexplained / PIXELS / largest);
  if (unsure > MOST_UNSURE) return 0;
  const scale = 1 / (largest * (1 + (unsure / SURE) * (unsure / SURE)));
  store<f64>(OUT, dx);
  store<f64>(OUT, dy, 8);
  store<f64>(OUT, xx * scale, 16);
  store<f64>(OUT, xy * scale, 24);
  store<f64>(OUT, yy * scale, 32);
  return 1;
}

/** See picture/pyramid.ts: area-averages 2×2 pixels into one. */
export function halve(from: usize, width: i32, height: i32, to: usize): void {
  const across = width >> 1;
  const down = height >> 1;
  const quarter = f32x4.splat(0.25);
  const stride = (<usize>width) << 2;
  for (let y = 0; y < down; y++) {
    let p = from + <usize>(2 * y) * stride;
    let o = to + ((<usize>(y * across)) << 2);
    let x = 0;
    for (; x + 4 <= across; x += 4, p += 32, o += 16) {
      const left = f32x4.add(v128.load(p), v128.load(p + stride));
      const right = f32x4.add(v128.load(p + 16), v128.load(p + stride + 16));
      const even = v128.shuffle<f32>(left, right, 0, 2, 4, 6);
      const odd = v128.shuffle<f32>(left, right, 1, 3, 5, 7);
      v128.store(o, f32x4.mul(quarter, f32x4.add(even, odd)));
    }
    for (; x < across; x++, p += 8, o += 4)
      store<f32>(
        o,
        0.25 * (load<f32>(p) + load<f32>(p + 4) + load<f32>(p + stride) + load<f32>(p + stride + 4)),
      );
  }
}

/** See picture/pyramid.ts: takes away the mean of a box. `work` has room for two rows. */
export function withoutLocalMean(
  from: usize,
  width: i32,
  height: i32,
  radius: i32,
  work: usize,
  to: usize,
): void {
  const stride = (<usize>width) << 2;
  const means = work + stride + 16;
  memory.fill(work, 0, stride);
  for (let y = 0; y <= min(radius, height - 1); y++) addRow(work, from + <usize>y * stride, width, 1);
  for (let y = 0; y < height; y++) {
    const rows = min(height - 1, y + radius) - max(0, y - radius) + 1;
    scaleRow(work, means, width, 1 / <f32>rows);
    boxRow(from + <usize>y * stride, means, to + <usize>y * stride, width, radius);
    if (y + radius + 1 < height) addRow(work, from + <usize>(y + radius + 1) * stride, width, 1);
    if (y - radius >= 0) addRow(work, from + <usize>(y - radius) * stride, width, -1);
  }
}

function addRow(sums: usize, row: usize, width: i32, sign: f32): void {
  const signs = f32x4.splat(sign);
  let x = 0;
  for (; x + 4 <= width; x += 4, sums += 16, row += 16)
    v128.store(sums, f32x4.add(v128.load(sums), f32x4.mul(signs, v128.load(row))));
  for (; x < width; x++, sums += 4, row += 4) store<f32>(sums, load<f32>(sums) + sign * load<f32>(row));
}

function scaleRow(from: usize, to: usize, width: i32, k: f32): void {
  const ks = f32x4.splat(k);
  let x = 0;
  for (; x + 4 <= width; x += 4, from += 16, to += 16) v128.store(to, f32x4.mul(ks, v128.load(from)));
  for (; x < width; x++, from += 4, to += 4) store<f32>(to, k * load<f32>(from));
}

function boxRow(row: usize, means: usize, to: usize, width: i32, radius: i32): void {
  const taps = 2 * radius + 1;
  const k: f32 = 1 / <f32>taps;
  const ks = f32x4.splat(k);
  let x = 0;
  for (; x < min(radius, width); x++) boxAt(row, means, to, width, radius, x);
  for (; x + 4 <= width - radius; x += 4) {
    const middle = (<usize>x) << 2;
    let sum = f32x4.splat(0);
    let p = means + middle - ((<usize>radius) << 2);
    for (let j = -radius; j <= radius; j++, p += 4) sum = f32x4.add(sum, v128.load(p));
    v128.store(to + middle, f32x4.sub(v128.load(row + middle), f32x4.mul(ks, sum)));
  }
  for (; x < width; x++) boxAt(row, means, to, width, radius, x);
}

function boxAt(row: usize, means: usize, to: usize, width: i32, radius: i32, x: i32): void {
  const first = max(0, x - radius);
  const last = min(width - 1, x + radius);
  let sum: f32 = 0;
  for (let j = first; j <= last; j++) sum += load<f32>(means + ((<usize>j) << 2));
  const at = (<usize>x) << 2;
  const taps = last - first + 1;
  store<f32>(to + at, load<f32>(row + at) - sum / <f32>taps);
}

/** See measures/softness/soft-frames.ts: power of fine, middle and coarse differences along rows and down columns, at OUT. */
export function detail(from: usize, width: i32, height: i32, fine: i32, middle: i32, coarse: i32): void {
  const stride = (<usize>width) << 2;
  const f = (<usize>fine) << 2;
  const m = (<usize>middle) << 2;
  const c = (<usize>coarse) << 2;
  let fx: f64 = 0;
  let mx: f64 = 0;
  let cx: f64 = 0;
  let fy: f64 = 0;
  let my: f64 = 0;
  let cy: f64 = 0;
  for (let y = coarse; y < height - coarse; y += 2) {
    let p = from + ((<usize>(y * width + coarse)) << 2);
    let vfx = f32x4.splat(0);
    let vmx = f32x4.splat(0);
    let vcx = f32x4.splat(0);
    let vfy = f32x4.splat(0);
    let vmy = f32x4.splat(0);
    let vcy = f32x4.splat(0);
    for (let x = coarse; x + 4 <= width - coarse; x += 4, p += 16) {
      vfx = addSquare(vfx, p, f);
      vmx = addSquare(vmx, p, m);
      vcx = addSquare(vcx, p, c);
      vfy = addSquare(vfy, p, <usize>fine * stride);
      vmy = addSquare(vmy, p, <usize>middle * stride);
      vcy = addSquare(vcy, p, <usize>coarse * stride);
    }
    fx += total(vfx);
    mx += total(vmx);
    cx += total(vcx);
    fy += total(vfy);
    my += total(vmy);
    cy += total(vcy);
  }
  store<f64>(OUT, fx);
  store<f64>(OUT, mx, 8);
  store<f64>(OUT, cx, 16);
  store<f64>(OUT, fy, 24);
  store<f64>(OUT, my, 32);
  store<f64>(OUT, cy, 40);
}

function addSquare(sum: v128, p: usize, reach: usize): v128 {
  const d = f32x4.sub(v128.load(p + reach), v128.load(p - reach));
  return f32x4.add(sum, f32x4.mul(d, d));
}

/** Side of a place whose detail is told from one frame to the next, pixels; of its last four columns two lie in it. */
export const PLACE: i32 = 14;
const IN_PLACE: v128 = i32x4(-1, -1, 0, 0);

/**
 * See measures/softness/carried-detail.ts: power of fine and coarse differences in every other row of a place, along rows and
 * then down columns, at OUT.
 * @param from address of the place's first sample
 */
export function detailAt(from: usize, width: i32, fine: i32, coarse: i32): void {
  const stride = (<usize>width) << 2;
  const f = (<usize>fine) << 2;
  const c = (<usize>coarse) << 2;
  const fy = <usize>fine * stride;
  const cy = <usize>coarse * stride;
  let vfx = f32x4.splat(0);
  let vcx = f32x4.splat(0);
  let vfy = f32x4.splat(0);
  let vcy = f32x4.splat(0);
  for (let y = 0; y < PLACE; y += 2, from += 2 * stride) {
    let p = from;
    for (let k = 0; k < 3; k++, p += 16) {
      vfx = addSquare(vfx, p, f);
      vcx = addSquare(vcx, p, c);
      vfy = addSquare(vfy, p, fy);
      vcy = addSquare(vcy, p, cy);
    }
    vfx = addSquareOf(vfx, p, f, IN_PLACE);
    vcx = addSquareOf(vcx, p, c, IN_PLACE);
    vfy = addSquareOf(vfy, p, fy, IN_PLACE);
    vcy = addSquareOf(vcy, p, cy, IN_PLACE);
  }
  store<f64>(OUT, total(vfx));
  store<f64>(OUT, total(vcx), 8);
  store<f64>(OUT, total(vfy), 16);
  store<f64>(OUT, total(vcy), 24);
}

function addSquareOf(sum: v128, p: usize, reach: usize, lanes: v128): v128 {
  const d = v128.and(f32x4.sub(v128.load(p + reach), v128.load(p - reach)), lanes);
  return f32x4.add(sum, f32x4.mul(d, d));
}

/** See picture/pyramid.ts: weighs each pixel with its neighbours 1–2–1. `work` has room for three rows. */
export function smooth(from: usize, width: i32, height: i32, work: usize, to: usize): void {
  const stride = (<usize>width) << 2;
  const rowRoom = stride + 16;
  smoothRow(from, width, to);
  memory.copy(work, to, stride);
  if (height > 1) smoothRow(from + stride, width, work + rowRoom);
  for (let y = 1; y < height - 1; y++) {
    const above = work + <usize>((y - 1) % 3) * rowRoom;
    const own = work + <usize>(y % 3) * rowRoom;
    const below = work + <usize>((y + 1) % 3) * rowRoom;
    smoothRow(from + <usize>(y + 1) * stride, width, below);
    const o = to + <usize>y * stride;
    for (let x: usize = 0; x < stride; x += 16)
      v128.store(o + x, oneTwoOne(v128.load(above + x), v128.load(own + x), v128.load(below + x)));
  }
  if (height > 1)
    memory.copy(to + <usize>(height - 1) * stride, work + <usize>((height - 1) % 3) * rowRoom, stride);
}

function oneTwoOne(before: v128, own: v128, after: v128): v128 {
  const beside = f32x4.mul(f32x4.splat(0.25), f32x4.add(before, after));
  return f32x4.add(beside, f32x4.mul(f32x4.splat(0.5), own));
}

/** One row of it; its first and last pixel stay. What lies up to three pixels behind the row may be written over. */
function smoothRow(from: usize, width: i32, to: usize): void {
  for (let x: usize = 4; x < (<usize>width) << 2; x += 16) {
    const p = from + x;
    v128.store(to + x, oneTwoOne(v128.load(p - 4), v128.load(p), v128.load(p + 4)));
  }
  store<f32>(to, load<f32>(from));
  const last = (<usize>(width - 1)) << 2;
  store<f32>(to + last, load<f32>(from + last));
}

/**
 * See measures/hot-pixels/specks.ts: of one row of a frame, which pixels stand out against the same place of the frame
 * before and of the frame after, the same way. Writes their offsets into the row at `out`; returns how many there are.
 */
export function standsOut(
  row: usize,
  before: usize,
  after: usize,
  count: i32,
  gainBefore: f32,
  gainAfter: f32,
  black: f32,
  threshold: f32,
  out: usize,
): i32 {
  const blacks = f32x4.splat(black);
  const gainsBefore = f32x4.splat(gainBefore);
  const gainsAfter = f32x4.splat(gainAfter);
  const high = f32x4.splat(threshold);
  const low = f32x4.splat(-threshold);
  let found = 0;
  for (let x = 0; x < count; x += 4, row += 16, before += 16, after += 16) {
    const v = f32x4.sub(v128.load(row), blacks);
    const da = f32x4.sub(v, f32x4.mul(gainsBefore, f32x4.sub(v128.load(before), blacks)));
    const db = f32x4.sub(v, f32x4.mul(gainsAfter, f32x4.sub(v128.load(after), blacks)));
    const bright = v128.and(f32x4.ge(da, high), f32x4.ge(db, high));
    const dark = v128.and(f32x4.le(da, low), f32x4.le(db, low));
    const mask = i32x4.bitmask(v128.or(bright, dark));
    if (mask == 0) continue;
    for (let lane = 0; lane < 4 && x + lane < count; lane++)
      if ((mask >> lane) & 1) {
        store<i32>(out + ((<usize>found) << 2), x + lane);
        found++;
      }
  }
  return found;
}
