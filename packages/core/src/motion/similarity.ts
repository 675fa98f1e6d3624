/**
 * How one picture lies over another: a point (x, y) counted from the middle of the first is found at
 * (x + dx + zoom·x − turn·y, y + dy + turn·x + zoom·y) in the second. `dx`, `dy` in pixels; `zoom` and `turn`
 * (radians) are small.
 */
export interface Similarity {
  readonly dx: number;
  readonly dy: number;
  readonly zoom: number;
  readonly turn: number;
}

/** No motion at all. */
export const STILL: Similarity = { dx: 0, dy: 0, zoom: 0, turn: 0 };

/** Displacements of tiles that lie within this of each other, pixels, are the same but for the errors of the tiles. */
export const AT_ONE = 0.12;
/** A fit has settled once a pass moves the picture by less than this, pixels of the level. */
export const SETTLED = 0.002;

/** How a picture lies over the one before, and how much of it agrees; pixels of that picture. */
export interface Registration {
  readonly motion: Similarity;
  /** Share of the tracked points that follow this motion, 0–1. */
  readonly following: number;
}

/** Where a point of the first picture is found in the second. */
export const carry = (
  m: Similarity,
  x: number,
  y: number,
  width: number,
  height: number,
): { x: number; y: number } => {
  const ux = x - (width - 1) / 2;
  const uy = y - (height - 1) / 2;
  return { x: x + m.dx + m.zoom * ux - m.turn * uy, y: y + m.dy + m.turn * ux + m.zoom * uy };
};
