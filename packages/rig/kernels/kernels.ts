// AssemblyScript: lays a plate over one row of the exposure, red, green, blue and alpha at once. Compiled by
// `npm run kernels` into src/camera/compiled.ts.

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
