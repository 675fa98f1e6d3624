import { DEFECTS, descriptorOf, type Defect, type Measurement, type Overrides } from '#document';

/** The measures whose readings may change when a technician decides otherwise. */
export const concernedBy = (before: Overrides, after: Overrides): Defect[] => {
  const differs = (key: keyof Overrides): boolean =>
    JSON.stringify(before[key]) !== JSON.stringify(after[key]);
  if (differs('range') || differs('masks')) return [...DEFECTS];
  return DEFECTS.filter((defect) => descriptorOf(defect).overrides.some(differs));
};

/** A measurement that is there, and what was overruled when it was made. */
export interface KnownMeasurement {
  readonly measurement: Measurement;
  readonly under: Overrides;
}

/** What is still to be measured: some defects, on top of readings that still hold; every one where there are none. */
export interface Remeasurement {
  readonly keep: Measurement | null;
  readonly only: readonly Defect[];
}

/**
 * What a clip must be looked at for, so that it is measured under other overrides: as little as what is known leaves.
 * @param known measurements of the same file, each with what it was made under
 */
export const remeasurementFor = (known: readonly KnownMeasurement[], overrides: Overrides): Remeasurement => {
  const best = known
    .map(({ measurement, under }) => ({ keep: measurement, only: concernedBy(under, overrides) }))
    .reduce<Remeasurement>((a, b) => (b.only.length < a.only.length ? b : a), { keep: null, only: DEFECTS });
  return best;
};

/**
 * Sets what was looked at once more into a measurement; everything else stays as it was.
 * @param before of the whole clip, under the same in and out point
 * @param remeasured a measurement that was made with `only` some measures
 */
export const withReadingsOf = (
  before: Measurement,
  remeasured: Measurement,
  only: readonly Defect[],
): Measurement => ({
  ...before,
  measuredUnder: remeasured.measuredUnder,
  readings: {
    ...before.readings,
    ...Object.fromEntries(only.map((d) => [d, remeasured.readings[d]])),
  },
});
