/** How far from an edge its sides are looked at, px: bright and dark lines lie within the first, the sides' own level beyond. */
const LINE_WITHIN = 4;
const REACH = 9;
const ALONG = 3;
/** The sides are flat: they vary by at most this share of the step. */
const FLAT = 0.12;

/**
 * The lines beside an edge that sharpening leaves: how far the bright side rises above its own level and the dark side
 * falls below its own, whichever is less, over the height of the step. Sharpening draws both; the scene rarely does.
 * @param read sample at a place, as the file stores it
 * @param ux, uy direction across the edge, of length 1, from dark to bright
 * @returns share of the step; `null` where the sides are not flat enough to tell
 */
export const overshootAt = (
  read: (x: number, y: number) => number,
  x: number,
  y: number,
  ux: number,
  uy: number,
): number | null => {
  const sums = new Float64Array(2 * REACH + 1);
  const counts = new Float64Array(2 * REACH + 1);
  for (let v = -REACH; v <= REACH; v++)
    for (let u = -REACH; u <= REACH; u++) {
      const across = u * ux + v * uy;
      if (Math.abs(v * ux - u * uy) > ALONG || Math.abs(across) > REACH) continue;
      const bin = Math.round(across) + REACH;
      sums[bin] += read(x + u, y + v);
      counts[bin]++;
    }
  const profile = sums.map((s, i) => s / Math.max(1, counts[i]));
  const side = (from: number, to: number): { level: number; spread: number } => {
    const part = profile.subarray(from + REACH, to + REACH + 1);
    const level = part.reduce((a, b) => a + b, 0) / part.length;
    return { level, spread: Math.max(...part) - Math.min(...part) };
  };
  const dark = side(-REACH, -LINE_WITHIN - 1);
  const bright = side(LINE_WITHIN + 1, REACH);
  const step = bright.level - dark.level;
  if (!(step > 0) || Math.max(dark.spread, bright.spread) > FLAT * step) return null;
  const near = (from: number, to: number): Float64Array => profile.subarray(from + REACH, to + REACH + 1);
  const above = Math.max(...near(1, LINE_WITHIN)) - bright.level;
  const below = dark.level - Math.min(...near(-LINE_WITHIN, -1));
  return Math.max(0, Math.min(above, below)) / step;
};
