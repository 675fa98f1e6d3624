import { isOneWith, type Place } from '../place.js';

/** So many dots by chance alone are less likely than this: of faults that lie anywhere one or two in a hundred are given up. */
const BY_CHANCE = 0.002;
/** Fewer dots than these are no crowd, however close they are; */
const LEAST = 3;
/** and of those about a place so many are looked at, the nearest first. */
const NEAREST = 8;
/** What stands in one row, or in one column, lies within so many pixels to each side. */
const IN_LINE = 4;

/**
 * Whether a place is one of a crowd: faults of a sensor lie anywhere, lamps, rivets and buttons lie close to each other or in
 * a row. Dots about the place, and dots in its row and its column, are counted; where so many would hardly be there if they
 * lay anywhere (Poisson), it is one of them.
 * @param place, dots pixels of luma; dots that a lens drew, or may have drawn
 * @param size of the picture, px
 */
export const isOfACrowd = (
  place: Place,
  dots: readonly Place[],
  { width, height }: { readonly width: number; readonly height: number },
): boolean => {
  const isItself = isOneWith(place);
  const others = dots
    .filter((d) => !isItself(d))
    .map((d) => ({ across: Math.abs(d.x - place.x), down: Math.abs(d.y - place.y) }));
  if (others.length < LEAST) return false;
  const isUnlikely = (count: number, share: number): boolean =>
    count >= LEAST && chanceOf(count, others.length * share) < BY_CHANCE;
  const inLine = (apart: readonly number[], size: number): boolean =>
    isUnlikely(apart.filter((a) => a <= IN_LINE).length, (2 * IN_LINE + 1) / size);
  const away = others.map((d) => Math.hypot(d.across, d.down)).sort((a, b) => a - b);
  return (
    inLine(
      others.map((d) => d.down),
      height,
    ) ||
    inLine(
      others.map((d) => d.across),
      width,
    ) ||
    away.slice(0, NEAREST).some((r, i) => isUnlikely(i + 1, (Math.PI * r * r) / (width * height)))
  );
};

/** The chance of at least so many where a mean is expected, and each falls where it falls (Poisson 1837). */
export const chanceOf = (least: number, mean: number): number => {
  let [fewer, term] = [0, Math.exp(-mean)];
  for (let k = 0; k < least; k++) {
    fewer += term;
    term *= mean / (k + 1);
  }
  return Math.max(0, 1 - fewer);
};
