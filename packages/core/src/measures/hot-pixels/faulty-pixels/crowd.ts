import { ENOUGH, SEVERAL } from '../../../maths/enough.js';
import { BY_CHANCE, chanceOf } from '../../../maths/chance.js';
import { median } from '../../../maths/robust.js';
import { isOneWith, type Place } from '../place.js';

/** Of the dots of a held scene that stand as alone as a fault, one in so many looks like one in all else (4 of 130 in photographs, so hardly more). */
const DOTS_TO_ONE_ALIKE = 20;
/** As many faults as this share of such scenes would show by chance are none. */
export const MAY_BE_CHANCE = 0.15;
/** So many numbers of neighbours are asked about, the nearest first: by none of them all is a place that lies anywhere taken for one of a crowd. */
const LOOKS = ENOUGH - SEVERAL + 1;

type Size = { readonly width: number; readonly height: number };

/** So many dots lie in a part of the picture on average, where their usual number is asked for. */
const TO_A_PART = 4;

/** How many dots there were if the whole picture were as most parts of it are: where they crowd does not count. */
export const usualNumber = (dots: readonly Place[], { width, height }: Size): number => {
  const side = Math.max(1, Math.floor(Math.sqrt(dots.length / TO_A_PART)));
  const counts = new Float64Array(side * side);
  for (const { x, y } of dots)
    counts[Math.floor((y / height) * side) * side + Math.floor((x / width) * side)]++;
  return counts.length * median(counts);
};

/**
 * Whether so many dots stand about a place as would hardly be there if they lay anywhere.
 * @param expected how many of them there would be in the picture
 * @param within those that are farther away, px, are not about it
 */
export const isAmong = (
  place: Place,
  dots: readonly Place[],
  { width, height }: Size,
  expected: number,
  within: number,
): boolean =>
  besides(place, dots)
    .map((d) => Math.hypot(d.x - place.x, d.y - place.y))
    .filter((r) => r <= within)
    .sort((a, b) => a - b)
    .slice(0, ENOUGH)
    .some((r, i) => isUnlikely(i + 1, (expected * Math.PI * r * r) / (width * height)));

/**
 * Whether among the dots of a scene so many places may look like faults by chance. Where they may, nobody can tell whether any is one.
 * @param alike what looks like faults, each once
 * @param dots what stands as alone and does not
 */
export const mayBeChance = (alike: readonly Place[], dots: readonly Place[]): boolean => {
  const others = alike.reduce((left, place) => besides(place, left), dots);
  return chanceOf(alike.length, others.length / DOTS_TO_ONE_ALIKE) > MAY_BE_CHANCE;
};

const besides = (place: Place, dots: readonly Place[]): readonly Place[] => {
  const isItself = isOneWith(place);
  return dots.filter((d) => !isItself(d));
};

const isUnlikely = (count: number, mean: number): boolean =>
  count >= SEVERAL && chanceOf(count, mean) < BY_CHANCE / LOOKS;
