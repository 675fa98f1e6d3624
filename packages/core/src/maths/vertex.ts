/** Beyond this the parabola says nothing: the extreme lies nearer to another sample. */
const FARTHEST = 0.5;

/**
 * Where the extreme of a curve lies that was sampled at three neighbours: the vertex of the parabola through them.
 * @param sought whether the middle one is a peak or a trough
 * @returns offset from the middle sample, −0.5 to 0.5 samples; 0 where the three do not bend that way
 */
export const vertexOf = (
  before: number,
  at: number,
  after: number,
  sought: 'peak' | 'trough' = 'peak',
): number => {
  const bend = before - 2 * at + after;
  if (sought === 'peak' ? !(bend < 0) : !(bend > 0)) return 0;
  return Math.max(-FARTHEST, Math.min(FARTHEST, (before - after) / (2 * bend)));
};
