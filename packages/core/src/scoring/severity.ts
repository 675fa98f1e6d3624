/** Severity at the pass limit and at the fail limit; the scale above is left for how far a reading goes beyond. */
const AT_PASS = 33;
const AT_FAIL = 67;

/**
 * How bad a reading is for a delivery, 0–100, the same function for every defect so that severities compare. Rises
 * in a straight line from nothing to the pass limit and on to the fail limit, then ever slower towards 100; what is
 * seen for part of the time counts by the square root of that share. Monotonic in value and share; moving a limit
 * outward never raises it.
 * @param value the reading, in the unit of the limits; not negative
 * @param share of the clip's duration in which the defect shows, 0–1
 */
export const severityOf = (value: number, pass: number, fail: number, share: number): number => {
  const strength =
    value <= pass
      ? pass > 0
        ? (AT_PASS * value) / pass
        : 0
      : value <= fail
        ? AT_PASS + ((AT_FAIL - AT_PASS) * (value - pass)) / (fail - pass)
        : 100 - ((100 - AT_FAIL) * fail) / value;
  return Math.round(strength * Math.sqrt(Math.max(0, Math.min(1, share))));
};
