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

/** How much of a defect a viewer gets to see. All of them 0–1, and 1 where nothing else is known. */
export interface Notice {
  /** Share of the clip's duration in which it shows. */
  readonly time: number;
  /** Share of the picture that it covers. */
  readonly area: number;
  /** Where it lies: 0 at the edge, 1 in the middle or in the technician's region of interest. */
  readonly place: number;
  /** How it stands out from its background. */
  readonly contrast: number;
}

export const ALL_OF_IT: Notice = { time: 1, area: 1, place: 1, contrast: 1 };

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
export const severityOf = (value: number, pass: number, fail: number, notice: Notice = ALL_OF_IT): number =>
  Math.round(
    strengthOf(value, pass, fail) *
      weight(FOR_A_MOMENT, Math.sqrt(notice.time)) *
      weight(IN_A_SPOT, Math.sqrt(Math.min(1, notice.area / LARGE))) *
      weight(AT_THE_EDGE, notice.place) *
      weight(HARDLY_SEEN, notice.contrast),
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
