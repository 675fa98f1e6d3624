/** A Hann window of so many samples, their middles half a sample from its ends: 0 at the ends, 1 in the middle. */
export const hann = (size: number): Float64Array =>
  Float64Array.from({ length: size }, (_, i) => 0.5 - 0.5 * Math.cos((2 * Math.PI * (i + 0.5)) / size));
