import { z } from 'zod';
import { notMeasurable } from '../terms/index.js';
import { DEFECTS, descriptorOf, type Defect } from './defects.js';
import { Measurement } from './document.js';
import { READING_SCHEMAS, type Readings } from './readings.js';

/** Said of a measurement that cannot be read any more. */
export const MEASURE_AGAIN =
  'It was measured by an earlier version, in a shape that is no longer read. Measure the clip again.';

const Loose = z.looseObject({ readings: z.record(z.string(), z.unknown()) });
const AllButReadings = Measurement.omit({ readings: true });

/**
 * A measurement as it was stored, by this version or an earlier one, in the shape of today. A reading that an earlier
 * version did not make, or made in a shape that cannot be brought into today's, says that the clip must be measured again.
 * @returns `null` where nothing of it can be read
 */
export const storedMeasurement = (stored: unknown): Measurement | null => {
  const loose = Loose.safeParse(stored);
  if (!loose.success) return null;
  const { readings, clip, ...rest } = loose.data;
  const parsed = AllButReadings.safeParse({ ...OLDEST, ...rest, clip: clipOf(clip) });
  if (!parsed.success) return null;
  const each = DEFECTS.map((defect) => [defect, storedReading(defect, readings[defect])]);
  return { ...parsed.data, readings: Object.fromEntries(each) as Readings };
};

/** What a measurement of the first version did not say. */
const OLDEST = { measuredUnder: {} };
const clipOf = (clip: unknown): unknown => ({
  activePicture: null,
  duplicateFrames: null,
  lostBefore: null,
  repeatEvery: null,
  blockiness: null,
  measuredAs: 'frames',
  ...(typeof clip === 'object' ? clip : {}),
});

const storedReading = (defect: Defect, stored: unknown): Readings[Defect] => {
  if (stored === undefined)
    return notMeasurable(
      'It was measured by an earlier version, which did not look for it. Measure the clip again.',
    );
  const schema: z.ZodType<Readings[Defect]> = READING_SCHEMAS[defect];
  const known = schema.safeParse(stored);
  if (known.success) return known.data;
  const { upgrade } = descriptorOf(defect);
  const upgraded = upgrade && schema.safeParse(withValues(stored, upgrade));
  return upgraded?.success ? upgraded.data : notMeasurable(MEASURE_AGAIN);
};

const withValues = (
  stored: unknown,
  upgrade: (values: Readonly<Record<string, unknown>>) => unknown,
): unknown => {
  if (typeof stored !== 'object' || stored === null || !('values' in stored)) return stored;
  const { values } = stored;
  return {
    ...stored,
    values: typeof values === 'object' && values !== null ? upgrade({ ...values }) : values,
  };
};
