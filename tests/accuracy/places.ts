import type { Measurement } from '@bevrin/contract';

/** A codec and chroma subsampling smear a fault over a few pixels. */
const SAME_PLACE_PX = 2;

/** A place of the picture, clip pixels. */
export interface Place {
  readonly x: number;
  readonly y: number;
}

const near = (a: Place, b: Place): boolean =>
  Math.abs(a.x - b.x) <= SAME_PLACE_PX && Math.abs(a.y - b.y) <= SAME_PLACE_PX;

/** Share of `these` that has one of `those` beside it; all of nothing. */
export const shareNear = (these: readonly Place[], those: readonly Place[]): number =>
  these.length === 0 ? 1 : these.filter((a) => those.some((b) => near(a, b))).length / these.length;

/** What is made of the faulty pixels that were found; `null` where they were not looked for. */
export const placesFound = (
  { readings: { hotPixels } }: Measurement,
  of: (found: readonly Place[]) => number,
): number | null => (hotPixels.state === 'measured' ? of(hotPixels.values.pixels) : null);
