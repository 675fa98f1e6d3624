import { DEFECTS, type Defect, type Measurement, type Overrides } from '@bevrin/contract';
import { MEASURES } from './measures/all.js';

/** The measures whose readings may change when a technician decides otherwise. */
export const concernedBy = (before: Overrides, after: Overrides): Defect[] => {
  const differs = (key: keyof Overrides): boolean =>
    JSON.stringify(before[key]) !== JSON.stringify(after[key]);
  if (differs('range') || differs('masks')) return [...DEFECTS];
  return MEASURES.filter((m) => m.heeds.some(differs)).map((m) => m.defect);
};

/**
 * Sets what was looked at once more into a measurement; everything else stays as it was.
 * @param before of the whole clip, under the same in and out point
 * @param again a measurement that was made with `only` some measures
 */
export const withReadingsOf = (
  before: Measurement,
  again: Measurement,
  only: readonly Defect[],
): Measurement => ({
  ...before,
  measuredUnder: again.measuredUnder,
  readings: {
    ...before.readings,
    ...Object.fromEntries(only.map((d) => [d, again.readings[d]])),
  },
});
