/** A place in a picture, its samples. */
export interface Place {
  readonly x: number;
  readonly y: number;
}

/** Places nearer than this, in luma pixels, are one fault, smeared. */
const ONE_FAULT = 3;

/** Whether two places are one and the same. */
export const isOneWith =
  (a: Place) =>
  (b: Place): boolean =>
    Math.abs(a.x - b.x) <= ONE_FAULT && Math.abs(a.y - b.y) <= ONE_FAULT;

/** The first of those that are one and the same. */
export const eachOnce = <T extends Place>(places: readonly T[]): T[] => {
  const kept: T[] = [];
  for (const place of places) if (!kept.some(isOneWith(place))) kept.push(place);
  return kept;
};
