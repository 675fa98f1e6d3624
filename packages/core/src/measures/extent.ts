import type { Extent } from './descriptor.js';

/** Mean over RMS of a sinusoid: a movement as even as that is there all the time. */
const EVEN = 0.9;

/**
 * Share of the time in which a quantity is there: the square of its mean over its mean square, 1 for one that is even,
 * 1/n for one that is all in one of n frames. No limit plays a part, so that moving one does not change it.
 * @param series one value a frame, of either sign; `null` where a frame has none
 */
export const shareOfTime = (series: readonly (number | null)[]): Extent => {
  const known = series.filter((v) => v !== null).map(Math.abs);
  const mean = known.reduce((a, b) => a + b, 0) / Math.max(1, known.length);
  const square = known.reduce((a, b) => a + b * b, 0) / Math.max(1, known.length);
  return square > 0 ? { time: Math.min(1, (mean * mean) / square / EVEN ** 2) } : {};
};

/** The size of each value of a series, whatever its sign. */
export const sizes = (series: readonly (number | null)[]): (number | null)[] =>
  series.map((v) => (v === null ? null : Math.abs(v)));

/** Frame numbers of a span, moved by so many frames. */
export const movedSpan = <T extends { startFrame: number; endFrame: number }>(span: T, by: number): T => ({
  ...span,
  startFrame: span.startFrame + by,
  endFrame: span.endFrame + by,
});
