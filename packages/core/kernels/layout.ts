// Where the kernels' memory holds what: below FREE lies scratch, from FREE on pictures, at addresses that the caller chooses.

/** Results: up to eight 64-bit floats. */
export const OUT: usize = 5120;
export const FREE: usize = 8192;

/** Sum of the four lanes. */
export function total(v: v128): f64 {
  return (
    <f64>f32x4.extract_lane(v, 0) +
    <f64>f32x4.extract_lane(v, 1) +
    <f64>f32x4.extract_lane(v, 2) +
    <f64>f32x4.extract_lane(v, 3)
  );
}
