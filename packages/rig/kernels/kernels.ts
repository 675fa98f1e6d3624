// AssemblyScript: the loops of the camera that touch every pixel of every frame. Compiled by `npm run kernels` into
// src/camera/compiled.ts. Addresses are bytes; pictures are 32-bit floats, interleaved red, green and blue unless it is said
// otherwise. What reads beyond the end of a row reads what follows it: the caller leaves a margin behind the last.

/** Results and pictures begin here. */
export const OUT: usize = 1024;
export const FREE: usize = 8192;

/**
 * Adds what the row sees of one plate, bilinear.
 * @param plate premultiplied linear-light RGBA, four floats a texel
 * @param u texel that the first pixel sees, with the step from pixel to pixel
 * @param clear one float a pixel: what still shines through
 * @param sums four floats a pixel
 */
export function addPlate(
  plate: usize,
  plateWidth: i32,
  plateHeight: i32,
  u: f64,
  v: f64,
  du: f64,
  dv: f64,
  width: i32,
  clear: usize,
  sums: usize,
): void {
  const rightmost = <f64>(plateWidth - 1);
  const lowest = <f64>(plateHeight - 1);
  const below = (<usize>plateWidth) << 4;
  for (let x = 0; x < width; x++, u += du, v += dv, clear += 4, sums += 16) {
    const through = load<f32>(clear);
    if (through < 1e-5 || u < 0 || v < 0 || u >= rightmost || v >= lowest) continue;
    const iu = <i32>u;
    const iv = <i32>v;
    const fu = <f32>(u - <f64>iu);
    const fv = <f32>(v - <f64>iv);
    const at = plate + ((<usize>(iv * plateWidth + iu)) << 4);
    const w11 = fu * fv * through;
    const w10 = fu * through - w11;
    const w01 = fv * through - w11;
    const w00 = through - w11 - w10 - w01;
    const seen = f32x4.add(
      f32x4.add(f32x4.mul(f32x4.splat(w00), v128.load(at)), f32x4.mul(f32x4.splat(w10), v128.load(at, 16))),
      f32x4.add(
        f32x4.mul(f32x4.splat(w01), v128.load(at + below)),
        f32x4.mul(f32x4.splat(w11), v128.load(at + below, 16)),
      ),
    );
    v128.store(sums, f32x4.add(v128.load(sums), seen));
    store<f32>(clear, through - f32x4.extract_lane(seen, 3));
  }
}

/**
 * Ends a row of the exposure: what shone through to the back of the scene is added, and alpha is left out.
 * @param sums four floats a pixel
 * @param rest one float a pixel: what shone through everything
 * @param out three floats a pixel; one float more is written behind the last
 */
export function settleRow(
  sums: usize,
  rest: usize,
  red: f32,
  green: f32,
  blue: f32,
  width: i32,
  out: usize,
): void {
  const back = f32x4(red, green, blue, 0);
  for (let x = 0; x < width; x++, sums += 16, rest += 4, out += 12)
    v128.store(out, f32x4.add(v128.load(sums), f32x4.mul(back, v128.load32_splat(rest))));
}

/** Adds so many floats to others. */
export function addTo(to: usize, what: usize, count: i32): void {
  let i = 0;
  for (; i + 4 <= count; i += 4, to += 16, what += 16)
    v128.store(to, f32x4.add(v128.load(to), v128.load(what)));
  for (; i < count; i++, to += 4, what += 4) store<f32>(to, load<f32>(to) + load<f32>(what));
}

/**
 * Blurs along the rows; each goes on beyond the picture's edge as it ends.
 * @param taps 2 × radius + 1 floats that sum to 1
 */
export function blurAcross(from: usize, to: usize, width: i32, height: i32, taps: usize, radius: i32): void {
  const stride = (<usize>width * 3) << 2;
  const count = 2 * radius + 1;
  for (let y = 0; y < height; y++, from += stride, to += stride) {
    const inner = max(radius, width - radius);
    for (let x = 0; x < width; x++) {
      if (x == radius && inner > radius) {
        // Whole pixels, four floats at a time: the middle of the row.
        const end = 3 * inner;
        let i = 3 * radius;
        for (; i + 4 <= end; i += 4) {
          let sum = f32x4.splat(0);
          let at = from + ((<usize>(i - 3 * radius)) << 2);
          for (let k = 0; k < count; k++, at += 12)
            sum = f32x4.add(sum, f32x4.mul(v128.load32_splat(taps + ((<usize>k) << 2)), v128.load(at)));
          v128.store(to + ((<usize>i) << 2), sum);
        }
        for (; i < end; i++) {
          let sum: f32 = 0;
          let at = from + ((<usize>(i - 3 * radius)) << 2);
          for (let k = 0; k < count; k++, at += 12)
            sum += load<f32>(taps + ((<usize>k) << 2)) * load<f32>(at);
          store<f32>(to + ((<usize>i) << 2), sum);
        }
        x = inner;
        if (x >= width) break;
      }
      for (let c = 0; c < 3; c++) {
        let sum: f32 = 0;
        for (let k = -radius; k <= radius; k++) {
          const u = min(width - 1, max(0, x + k));
          sum +=
            load<f32>(taps + ((<usize>(k + radius)) << 2)) * load<f32>(from + ((<usize>(3 * u + c)) << 2));
        }
        store<f32>(to + ((<usize>(3 * x + c)) << 2), sum);
      }
    }
  }
}

/** Blurs down the columns; each goes on beyond the picture's edge as it ends. */
export function blurDown(from: usize, to: usize, width: i32, height: i32, taps: usize, radius: i32): void {
  const floats = width * 3;
  const stride = (<usize>floats) << 2;
  for (let y = 0; y < height; y++) {
    const row = to + <usize>y * stride;
    for (let i = 0; i < floats; i += 4) {
      let sum = f32x4.splat(0);
      for (let k = -radius; k <= radius; k++) {
        const v = <usize>min(height - 1, max(0, y + k));
        sum = f32x4.add(
          sum,
          f32x4.mul(
            v128.load32_splat(taps + ((<usize>(k + radius)) << 2)),
            v128.load(from + v * stride + ((<usize>i) << 2)),
          ),
        );
      }
      if (i + 4 <= floats) v128.store(row + ((<usize>i) << 2), sum);
      else
        for (let j = i; j < floats; j++) {
          store<f32>(row + ((<usize>j) << 2), f32x4.extract_lane(sum, 0));
          sum = v128.shuffle<f32>(sum, sum, 1, 2, 3, 0);
        }
    }
  }
}

/**
 * Encodes linear light by a table, and interpolates: one for the shadows, where the curve bends, and one for the rest.
 * @param dark table of `steps` + 2 entries from 0 to `darkest`
 * @param table the same from 0 to 1
 */
export function encode(
  light: usize,
  out: usize,
  count: i32,
  dark: usize,
  table: usize,
  darkest: f32,
  steps: f32,
): void {
  const inDark = steps / darkest;
  for (let i = 0; i < count; i++, light += 4, out += 4) {
    const v = load<f32>(light);
    if (v <= 0) {
      store<f32>(out, 0);
      continue;
    }
    if (v >= 1) {
      store<f32>(out, 1);
      continue;
    }
    const shadows = v < darkest;
    const p = v * (shadows ? inDark : steps);
    const n = <i32>p;
    const at = (shadows ? dark : table) + ((<usize>n) << 2);
    const a = load<f32>(at);
    store<f32>(out, a + (load<f32>(at, 4) - a) * (p - <f32>n));
  }
}

/**
 * Adds noise to one channel of a signal.
 * @param clean the signal without noise, one channel of three; `noisy` the same with it
 * @param field unit noise, one float a pixel; `fixed` that which stays in place
 * @param lift noise is stronger by this share at black, and by none from mid-grey on
 */
export function addNoise(
  clean: usize,
  noisy: usize,
  field: usize,
  fixed: usize,
  sigma: f32,
  fixedSigma: f32,
  lift: f32,
  count: i32,
): void {
  for (let p = 0; p < count; p++, clean += 12, noisy += 12, field += 4, fixed += 4) {
    const c = load<f32>(clean);
    const more: f32 = 1 + lift * max<f32>(0, 1 - 2 * c);
    store<f32>(noisy, load<f32>(noisy) + (load<f32>(field) * sigma + load<f32>(fixed) * fixedSigma) * more);
  }
}

/**
 * Parts a signal into luma and two colour differences, the latter averaged over `stepX` × `stepY` pixels.
 * @param luma, cb, cr planes of floats
 */
export function toPlanes(
  signal: usize,
  width: i32,
  height: i32,
  stepX: i32,
  stepY: i32,
  kr: f32,
  kb: f32,
  luma: usize,
  cb: usize,
  cr: usize,
): void {
  const kg: f32 = 1 - kr - kb;
  const chromaWidth = (width + stepX - 1) / stepX;
  const halfB: f32 = 2 * (1 - kb);
  const halfR: f32 = 2 * (1 - kr);
  for (let y = 0; y < height; y++) {
    const first = y % stepY == 0;
    const tall = min(stepY, height - (y / stepY) * stepY);
    const row = (<usize>((y / stepY) * chromaWidth)) << 2;
    for (let c = 0; c < chromaWidth; c++) {
      const wide = min(stepX, width - c * stepX);
      let sumB: f32 = 0;
      let sumR: f32 = 0;
      for (let k = 0; k < wide; k++, signal += 12, luma += 4) {
        const red = load<f32>(signal);
        const blue = load<f32>(signal, 8);
        const value = kr * red + kg * load<f32>(signal, 4) + kb * blue;
        store<f32>(luma, value);
        sumB += blue - value;
        sumR += red - value;
      }
      const share: f32 = <f32>1 / <f32>(tall * wide);
      const at = row + ((<usize>c) << 2);
      sumB = (sumB * share) / halfB;
      sumR = (sumR * share) / halfR;
      store<f32>(cb + at, first ? sumB : load<f32>(cb + at) + sumB);
      store<f32>(cr + at, first ? sumR : load<f32>(cr + at) + sumR);
    }
  }
}

/**
 * Power of the difference between what is stored and the picture without noise, at every ninth pixel: of luma, Cb, Cr,
 * red, green and blue at OUT, with the number of pixels behind them.
 * @param span codes from black to white of luma and of a colour difference
 */
export function noisePower(
  luma: usize,
  cb: usize,
  cr: usize,
  cleanLuma: usize,
  cleanCb: usize,
  cleanCr: usize,
  width: i32,
  height: i32,
  stepX: i32,
  stepY: i32,
  lumaSpan: f32,
  chromaSpan: f32,
  kr: f64,
  kb: f64,
): void {
  const kg = 1 - kr - kb;
  const chromaWidth = (width + stepX - 1) / stepX;
  let sum0: f64 = 0;
  let sum1: f64 = 0;
  let sum2: f64 = 0;
  let sum3: f64 = 0;
  let sum4: f64 = 0;
  let sum5: f64 = 0;
  let count: f64 = 0;
  for (let y = 0; y < height; y += 3)
    for (let x = y % 2; x < width; x += 3) {
      const i = (<usize>(y * width + x)) << 2;
      const c = (<usize>((y / stepY) * chromaWidth + x / stepX)) << 2;
      const dy = <f64>(stored(load<f32>(luma + i), lumaSpan) - load<f32>(cleanLuma + i));
      const db = <f64>(stored(load<f32>(cb + c), chromaSpan) - load<f32>(cleanCb + c));
      const dr = <f64>(stored(load<f32>(cr + c), chromaSpan) - load<f32>(cleanCr + c));
      const red = dy + 2 * (1 - kr) * dr;
      const blue = dy + 2 * (1 - kb) * db;
      const green = dy - ((2 * kb * (1 - kb)) / kg) * db - ((2 * kr * (1 - kr)) / kg) * dr;
      sum0 += dy * dy;
      sum1 += db * db;
      sum2 += dr * dr;
      sum3 += red * red;
      sum4 += green * green;
      sum5 += blue * blue;
      count += 1;
    }
  store<f64>(OUT, sum0);
  store<f64>(OUT, sum1, 8);
  store<f64>(OUT, sum2, 16);
  store<f64>(OUT, sum3, 24);
  store<f64>(OUT, sum4, 32);
  store<f64>(OUT, sum5, 40);
  store<f64>(OUT, count, 48);
}

function stored(signal: f32, span: f32): f32 {
  return Mathf.floor(span * signal + 0.5) / span;
}

/** Rounds a plane to codes of one or two bytes. */
export function toCodes(
  plane: usize,
  count: i32,
  base: f32,
  span: f32,
  top: f32,
  wide: i32,
  out: usize,
): void {
  for (let i = 0; i < count; i++, plane += 4) {
    const code = <i32>max<f32>(0, min<f32>(top, Mathf.floor(base + span * load<f32>(plane) + 0.5)));
    if (wide) {
      store<u16>(out, <u16>code);
      out += 2;
    } else {
      store<u8>(out, <u8>code);
      out += 1;
    }
  }
}
