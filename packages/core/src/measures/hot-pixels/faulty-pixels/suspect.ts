/** A place of one plane that stood out often, and the running sums about it (fractions of range). */
export interface Suspect {
  readonly x: number;
  readonly y: number;
  readonly index: number;
  readonly bright: boolean;
  frames: number;
  stoodOut: number;
  contrast: number;
  contrastSquares: number;
  value: number;
  valueSquares: number;
  around: number;
  aroundSquares: number;
  /** Contrast of the four nearest neighbours. */
  beside: number;
  /** Values of the nearest neighbours: left, right, above and below. */
  readonly sides: Float64Array;
  /** Contrast with the pairs at distance two: beside, above and below, and along the two diagonals. */
  readonly along: Float64Array;
  /** Samples on the square rings about it (see `isolation.ts`). */
  readonly rings: Float32Array;
}

/** Standard deviation of so many values, by their sum and the sum of their squares. */
export const spread = (sum: number, squares: number, n: number): number =>
  Math.sqrt(Math.max(0, squares / n - (sum / n) ** 2));
