import { total } from './layout';

/**
 * See maths/fft2.ts: the two-dimensional discrete Fourier transform of a square complex picture, in place.
 * Columns four at a time by decimation in time (Cooley and Tukey 1965), then transposed, then again, so that it comes out
 * as it went in.
 * @param size side, a power of 2, 4 at least
 * @param twiddles cosines and sines of −2πk/size, interleaved, for k below size/2
 * @param powers receives, of the bins up to the middle of each row, the mean power of a bin and of its opposite
 */
export function pairSpectrum(re: usize, im: usize, size: i32, twiddles: usize, powers: usize): void {
  columns(re, im, size, twiddles);
  transpose(re, size);
  transpose(im, size);
  columns(re, im, size, twiddles);
  transpose(re, size);
  transpose(im, size);
  for (let v = 0; v < size; v++) {
    const row = (<usize>(v * size)) << 2;
    const mirrored = (<usize>(((size - v) & (size - 1)) * size)) << 2;
    for (let u = 0; u <= size >> 1; u++) {
      const i = row + ((<usize>u) << 2);
      const o = mirrored + ((<usize>((size - u) & (size - 1))) << 2);
      store<f32>(powers + i, (square(re + i) + square(im + i) + square(re + o) + square(im + o)) / 2);
    }
  }
}

function square(at: usize): f32 {
  const value = load<f32>(at);
  return value * value;
}

function columns(re: usize, im: usize, size: i32, twiddles: usize): void {
  const stride = (<usize>size) << 2;
  reverse(re, size);
  reverse(im, size);
  for (let half = 1; half < size; half <<= 1) {
    const step = size / (2 * half);
    for (let k = 0; k < half; k++) {
      const w = twiddles + ((<usize>(k * step)) << 3);
      const wr = f32x4.splat(load<f32>(w));
      const wi = f32x4.splat(load<f32>(w, 4));
      for (let top = k; top < size; top += 2 * half) {
        const a = <usize>top * stride;
        const b = <usize>(top + half) * stride;
        for (let x: usize = 0; x < stride; x += 16) {
          const br = v128.load(re + b + x);
          const bi = v128.load(im + b + x);
          const tr = f32x4.sub(f32x4.mul(br, wr), f32x4.mul(bi, wi));
          const ti = f32x4.add(f32x4.mul(br, wi), f32x4.mul(bi, wr));
          const ar = v128.load(re + a + x);
          const ai = v128.load(im + a + x);
          v128.store(re + a + x, f32x4.add(ar, tr));
          v128.store(im + a + x, f32x4.add(ai, ti));
          v128.store(re + b + x, f32x4.sub(ar, tr));
          v128.store(im + b + x, f32x4.sub(ai, ti));
        }
      }
    }
  }
}

/** Puts the rows in the order of their reversed bits. */
function reverse(plane: usize, size: i32): void {
  const stride = (<usize>size) << 2;
  for (let i = 1, j = 0; i < size; i++) {
    let bit = size >> 1;
    for (; j & bit; bit >>= 1) j ^= bit;
    j ^= bit;
    if (i >= j) continue;
    const a = plane + <usize>i * stride;
    const b = plane + <usize>j * stride;
    for (let x: usize = 0; x < stride; x += 16) {
      const kept = v128.load(a + x);
      v128.store(a + x, v128.load(b + x));
      v128.store(b + x, kept);
    }
  }
}

function transpose(plane: usize, size: i32): void {
  for (let y = 0; y < size; y++)
    for (let x = y + 1; x < size; x++) {
      const a = plane + ((<usize>(y * size + x)) << 2);
      const b = plane + ((<usize>(x * size + y)) << 2);
      const kept = load<f32>(a);
      store<f32>(a, load<f32>(b));
      store<f32>(b, kept);
    }
}

/**
 * See maths/fft2.ts: takes the mean out of a square picture and lays a window over it, in place.
 * @param window of one side; what is laid over the picture is its product of both
 * @param scale what samples are multiplied with
 */
export function underWindow(at: usize, size: i32, window: usize, scale: f32): void {
  const row = (<usize>size) << 2;
  let sum: f64 = 0;
  for (let y = 0, p = at; y < size; y++) {
    // Codes of one row add up without loss.
    let sums = f32x4.splat(0);
    for (let end = p + row; p < end; p += 16) sums = f32x4.add(sums, v128.load(p));
    sum += total(sums);
  }
  const mean = f32x4.splat(<f32>(sum / <f64>(size * size)));
  for (let y = 0, p = at; y < size; y++) {
    const down = f32x4.splat(scale * load<f32>(window + ((<usize>y) << 2)));
    for (let x: usize = 0; x < row; x += 16, p += 16)
      v128.store(p, f32x4.mul(f32x4.mul(f32x4.sub(v128.load(p), mean), down), v128.load(window + x)));
  }
}
