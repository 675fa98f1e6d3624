import type { Visibility } from '#document';

/** Severity at the pass limit and at the fail limit; the scale above is left for how far a reading goes beyond. */
const AT_PASS = 33;
const AT_FAIL = 67;
/** What is left of a defect's strength when it shows for a moment only, */
const FOR_A_MOMENT = 0.35;
/** in a spot of the picture, */
const IN_A_SPOT = 0.5;
/** at the edge, where nobody looks, */
const AT_THE_EDGE = 0.75;
/** or hardly stands out from what is behind it. */
const HARDLY_SEEN = 0.5;
/** Share of the picture from which on a defect counts in full. */
const LARGE = 0.25;

/** All of it, all the time: where nothing else is known. */
export const FULLY_VISIBLE: Visibility = { time: 1, area: 1, place: 1, contrast: 1 };

/**
 * How bad a reading is for a delivery, 0–100, the same function for every defect so that severities compare.
 *
 * Strength rises in a straight line from nothing to 33 at the pass limit and 67 at the fail limit, then ever slower
 * towards 100. It is weighed by what a viewer notices: the square root of the share of time, the square root of the
 * share of the picture (a quarter of it counts in full), the place, and the contrast with the background; each weight
 * has a floor, because what is strong is seen even when it is small. Monotonic in the value and in each weight; a limit
 * that is moved outward never raises it. See docs/severity.md.
 * @param value the reading, in the unit of the limits; not negative
 */
export const severityOf = (
  value: number,
  pass: number,
  fail: number,
  visibility: Visibility = FULLY_VISIBLE,
): number =>
  Math.round(
    strengthOf(value, pass, fail) *
      weight(FOR_A_MOMENT, Math.sqrt(visibility.time)) *
      weight(IN_A_SPOT, Math.sqrt(Math.min(1, visibility.area / LARGE))) *
      weight(AT_THE_EDGE, visibility.place) *
      weight(HARDLY_SEEN, visibility.contrast),
  );

const strengthOf = (value: number, pass: number, fail: number): number =>
  value <= pass
    ? pass > 0
      ? (AT_PASS * value) / pass
      : 0
    : value <= fail
      ? AT_PASS + ((AT_FAIL - AT_PASS) * (value - pass)) / (fail - pass)
      : 100 - ((100 - AT_FAIL) * fail) / value;

const weight = (floor: number, share: number): number =>
  floor + (1 - floor) * Math.max(0, Math.min(1, share));
