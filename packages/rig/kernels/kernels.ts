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
  // Texels in 32 bits before the point and 32 behind it: whole numbers are added faster than floats are rounded.
  const across = <i64>(du * ONE);
  const down = <i64>(dv * ONE);
  const left = <i64>(u * ONE);
  const top = <i64>(v * ONE);
  const below = (<usize>plateWidth) << 4;
  // The pixels that see the plate lie side by side: the ends are looked for, and nothing is asked on the way.
  let from = 0;
  let to = width;
  while (from < to && !inside(left + across * from, top + down * from, plateWidth - 1, plateHeight - 1))
    from++;
  while (
    to > from &&
    !inside(left + across * (to - 1), top + down * (to - 1), plateWidth - 1, plateHeight - 1)
  )
    to--;
  clear += (<usize>from) << 2;
  sums += (<usize>from) << 4;
  let pu = left + across * from;
  let pv = top + down * from;
  for (let x = from; x < to; x++, clear += 4, sums += 16, pu += across, pv += down) {
    const through = load<f32>(clear);
    if (through < 1e-5) continue;
    const at = plate + ((<usize>(<i32>(pv >> 32) * plateWidth + <i32>(pu >> 32))) << 4);
    const topLeft = v128.load(at);
    const bottomLeft = v128.load(at + below);
    const beside = f32x4.splat(behindPoint(pu));
    const upper = f32x4.add(topLeft, f32x4.mul(beside, f32x4.sub(v128.load(at, 16), topLeft)));
    const lower = f32x4.add(bottomLeft, f32x4.mul(beside, f32x4.sub(v128.load(at + below, 16), bottomLeft)));
    const seen = f32x4.mul(
      f32x4.splat(through),
      f32x4.add(upper, f32x4.mul(f32x4.splat(behindPoint(pv)), f32x4.sub(lower, upper))),
    );
    v128.store(sums, f32x4.add(v128.load(sums), seen));
    store<f32>(clear, through - f32x4.extract_lane(seen, 3));
  }
}

const ONE: f64 = 4294967296;

/** What is behind the point, as far as a float can tell. */
function behindPoint(texels: i64): f32 {
  return <f32>(<i32>((<u32>texels) >>> 8)) * 5.9604644775390625e-8;
}

function inside(u: i64, v: i64, rightmost: i32, lowest: i32): bool {
  return u >= 0 && v >= 0 && <i32>(u >> 32) < rightmost && <i32>(v >> 32) < lowest;
}

/**
 * What a mosaic sensor makes of a picture: each photosite sees one colour (red green / green blue), and the others are
 * the mean of its neighbours that see them.
 * @param seen the light; `out` as much room
 */
export function throughMosaic(seen: usize, out: usize, width: i32, height: i32): void {
  const row = (<usize>(3 * width)) << 2;
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++, seen += 12, out += 12) {
      if (x == 0 || y == 0 || x == width - 1 || y == height - 1) {
        for (let c = 0; c < 3; c++)
          store<f32>(out + ((<usize>c) << 2), atEdge(seen + ((<usize>c) << 2), x, y, c, width, height, row));
        continue;
      }
      if ((x & 1) == (y & 1)) {
        // Red or blue: green lies across and down, the other one at the corners.
        const own = <usize>((x & 1) == 0 ? 0 : 8);
        const other = 8 - own;
        store<f32>(out + own, load<f32>(seen + own));
        const g = seen + 4;
        store<f32>(
          out,
          (load<f32>(g - 12) + load<f32>(g + 12) + load<f32>(g - row) + load<f32>(g + row)) / 4,
          4,
        );
        const o = seen + other;
        store<f32>(
          out + other,
          (load<f32>(o - row - 12) +
            load<f32>(o - row + 12) +
            load<f32>(o + row - 12) +
            load<f32>(o + row + 12)) /
            4,
        );
        continue;
      }
      // Green: red lies beside it in one row, above and below in the next.
      const beside = <usize>((y & 1) == 0 ? 0 : 8);
      const above = 8 - beside;
      store<f32>(out, load<f32>(seen, 4), 4);
      const b = seen + beside;
      store<f32>(out + beside, (load<f32>(b - 12) + load<f32>(b + 12)) / 2);
      const a = seen + above;
      store<f32>(out + above, (load<f32>(a - row) + load<f32>(a + row)) / 2);
    }
}

/** One colour at the edge of the picture, of the neighbours that there are. */
function atEdge(at: usize, x: i32, y: i32, c: i32, width: i32, height: i32, row: usize): f32 {
  if (colourAt(x, y) == c) return load<f32>(at);
  let sum: f32 = 0;
  let count: f32 = 0;
  for (let dy = max(0, y - 1) - y; dy <= min(height - 1, y + 1) - y; dy++)
    for (let dx = max(0, x - 1) - x; dx <= min(width - 1, x + 1) - x; dx++) {
      if (colourAt(x + dx, y + dy) != c || (c == 1 && dx != 0 && dy != 0)) continue;
      sum += load<f32>(at + <usize>dy * row + <usize>(12 * dx));
      count += 1;
    }
  return count > 0 ? sum / count : 0;
}

function colourAt(x: i32, y: i32): i32 {
  return (x & 1) == (y & 1) ? ((x & 1) == 0 ? 0 : 2) : 1;
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
 * Blurs a plane of one float a pixel along its rows; what lies beyond one edge is what lies at the other.
 * @param taps 2 × radius + 1 floats
 */
export function clumpAcross(from: usize, to: usize, width: i32, height: i32, taps: usize, radius: i32): void {
  const stride = (<usize>width) << 2;
  const inner = max(radius, width - radius);
  for (let y = 0; y < height; y++, from += stride, to += stride) {
    let x = 0;
    while (x < width) {
      if (x >= radius && x + 4 <= inner) {
        let sum = f32x4.splat(0);
        let at = from + ((<usize>(x - radius)) << 2);
        for (let k = 0; k <= 2 * radius; k++, at += 4)
          sum = f32x4.add(sum, f32x4.mul(v128.load32_splat(taps + ((<usize>k) << 2)), v128.load(at)));
        v128.store(to + ((<usize>x) << 2), sum);
        x += 4;
        continue;
      }
      let sum: f32 = 0;
      for (let k = -radius; k <= radius; k++)
        sum +=
          load<f32>(taps + ((<usize>(k + radius)) << 2)) *
          load<f32>(from + ((<usize>around(x + k, width)) << 2));
      store<f32>(to + ((<usize>x) << 2), sum);
      x++;
    }
  }
}

/** The same down its columns. The plane has a margin behind it. */
export function clumpDown(from: usize, to: usize, width: i32, height: i32, taps: usize, radius: i32): void {
  const stride = (<usize>width) << 2;
  for (let y = 0; y < height; y++) {
    const row = to + <usize>y * stride;
    for (let x = 0; x < width; x += 4) {
      let sum = f32x4.splat(0);
      for (let k = -radius; k <= radius; k++)
        sum = f32x4.add(
          sum,
          f32x4.mul(
            v128.load32_splat(taps + ((<usize>(k + radius)) << 2)),
            v128.load(from + <usize>around(y + k, height) * stride + ((<usize>x) << 2)),
          ),
        );
      if (x + 4 <= width) v128.store(row + ((<usize>x) << 2), sum);
      else
        for (let u = x; u < width; u++) {
          store<f32>(row + ((<usize>u) << 2), f32x4.extract_lane(sum, 0));
          sum = v128.shuffle<f32>(sum, sum, 1, 2, 3, 0);
        }
    }
  }
}

function around(i: i32, n: i32): i32 {
  return ((i % n) + n) % n;
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
 * @param luma, cb, cr planes of floats
 * @param clean the signal without noise, interleaved
 * @param span codes from black to white of luma and of a colour difference
 */
export function noisePower(
  luma: usize,
  cb: usize,
  cr: usize,
  clean: usize,
  width: i32,
  height: i32,
  stepX: i32,
  stepY: i32,
  lumaSpan: f32,
  chromaSpan: f32,
  red: f32,
  blue: f32,
): void {
  const kr = <f64>red;
  const kb = <f64>blue;
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
      const value = lumaOf(clean + 3 * i, red, blue);
      const left = (x / stepX) * stepX;
      const top = (y / stepY) * stepY;
      const wide = min(stepX, width - left);
      const tall = min(stepY, height - top);
      let besideB: f32 = 0;
      let besideR: f32 = 0;
      for (let v = 0; v < tall; v++)
        for (let u = 0; u < wide; u++) {
          const at = clean + <usize>((top + v) * width + left + u) * 12;
          const about = lumaOf(at, red, blue);
          besideB += load<f32>(at, 8) - about;
          besideR += load<f32>(at) - about;
        }
      const share: f32 = <f32>0.5 / <f32>(tall * wide);
      const dy = <f64>(stored(load<f32>(luma + i), lumaSpan) - value);
      const db = <f64>(stored(load<f32>(cb + c), chromaSpan) - (besideB * share) / (1 - blue));
      const dr = <f64>(stored(load<f32>(cr + c), chromaSpan) - (besideR * share) / (1 - red));
      const ofRed = dy + 2 * (1 - kr) * dr;
      const ofBlue = dy + 2 * (1 - kb) * db;
      const ofGreen = dy - ((2 * kb * (1 - kb)) / kg) * db - ((2 * kr * (1 - kr)) / kg) * dr;
      sum0 += dy * dy;
      sum1 += db * db;
      sum2 += dr * dr;
      sum3 += ofRed * ofRed;
      sum4 += ofGreen * ofGreen;
      sum5 += ofBlue * ofBlue;
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

function lumaOf(at: usize, kr: f32, kb: f32): f32 {
  return kr * load<f32>(at) + (1 - kr - kb) * load<f32>(at, 4) + kb * load<f32>(at, 8);
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

/** How many values of a row of texture are worked out at once. */
export const RUN: i32 = 8;

/**
 * See scene/fractal.ts: value noise of several octaves at places one after the other, 64-bit floats at OUT.
 * @param x, y the first place, `scale` times which lies on the lattice
 */
export function fractalRun(x: f64, y: f64, scale: f64, octaves: i32, seed: i32): void {
  for (let k = 0; k < RUN; k++) store<f64>(OUT + ((<usize>k) << 3), 0);
  let share: f64 = 0.5 / (1 - 0.5 ** octaves);
  for (let o = 0; o < octaves; o++, share *= 0.5, scale *= 2)
    addNoiseRun(x, y * scale, scale, seed + o * 101, share);
}

function addNoiseRun(x: f64, v: f64, scale: f64, seed: i32, share: f64): void {
  const top = Math.floor(v);
  const fy = v - top;
  const sy = fy * fy * (3 - 2 * fy);
  const above = <i32>top * 668265263;
  const seeded = seed * 1442695041;
  let cell = Math.floor(x * scale);
  let left = edgeOf(<i32>cell, above, seeded, sy);
  let right = edgeOf(<i32>cell + 1, above, seeded, sy);
  for (let k = 0; k < RUN; k++) {
    const u = (x + <f64>k) * scale;
    while (u >= cell + 1) {
      // Places that lie close share a cell of the lattice, or that beside it.
      cell += 1;
      left = right;
      right = edgeOf(<i32>cell + 1, above, seeded, sy);
    }
    const fx = u - cell;
    const sx = fx * fx * (3 - 2 * fx);
    const at = OUT + ((<usize>k) << 3);
    store<f64>(at, load<f64>(at) + share * (left + (right - left) * sx));
  }
}

/** Noise on the edge of a cell: between the corners above and below. */
function edgeOf(x: i32, above: i32, seeded: i32, sy: f64): f64 {
  const across = (x * 374761393) ^ seeded;
  return (hashed(across ^ above) * (1 - sy) + hashed(across ^ (above + 668265263)) * sy) / ONE;
}

function hashed(mixed: i32): f64 {
  let h = (mixed ^ (mixed >>> 13)) * 1274126177;
  h ^= h >>> 16;
  return <f64>(<u32>h);
}
