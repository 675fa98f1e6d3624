/** How many samples of each plane, across and down, lie under one of another; and how far on each of them starts in a list of all. */
export type Cover = readonly { readonly columns: number; readonly rows: number; readonly start: number }[];

/** A place of one plane that stood out often, and the running sums about it (fractions of range). */
export interface Suspect {
  readonly x: number;
  readonly y: number;
  readonly index: number;
  readonly bright: boolean;
  /** Looks before it was kept an eye on, and in how many of them it stood out. */
  readonly before: { readonly looks: number; readonly stoodOut: number };
  frames: number;
  stoodOut: number;
  contrast: number;
  contrastSquares: number;
  value: number;
  valueSquares: number;
  around: number;
  aroundSquares: number;
  /** Values of the nearest neighbours: left, right, above and below. */
  readonly sides: Float64Array;
  /** Contrast with the pairs at distance two: beside, above and below, and along the two diagonals. */
  readonly along: Float64Array;
  /** Samples on the square rings about it (see `isolation.ts`). */
  readonly rings: Float32Array;
  /** What it covers of all planes, and its contrast there, whether it stands out or not (see `in-planes.ts`). */
  readonly cover: Cover;
  readonly covered: Float64Array;
}

/** Mean contrast of the four nearest neighbours of a place, fraction of range. */
export const besideOf = ({ sides, around, frames }: Suspect): number =>
  ((sides[0] + sides[1] + sides[2] + sides[3]) / 4 - around) / frames;

/** Share of a place's contrast that its four nearest neighbours carry: 0 for a single sample. */
export const shareBeside = (s: Suspect): number => (besideOf(s) * s.frames) / s.contrast;

/** Standard deviation of so many values, by their sum and the sum of their squares. */
export const spread = (sum: number, squares: number, n: number): number =>
  Math.sqrt(Math.max(0, squares / n - (sum / n) ** 2));
