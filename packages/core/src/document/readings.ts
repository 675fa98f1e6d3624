import { z } from 'zod';
import { DESCRIPTORS } from '../measures/all.js';
import {
  amount,
  measured,
  notMeasurable,
  NotMeasurable,
  type Measured,
  type Reading,
} from '../terms/index.js';
import { descriptorOf, type Defect } from './defects.js';

type Listed = (typeof DESCRIPTORS)[number];
type Of<D extends Defect> = Extract<Listed, { defect: D }>;

/** The values that a reading of one defect holds. */
export type ValuesOf<D extends Defect> = z.infer<Of<D>['values']>;
export type SeriesOf<D extends Defect> = z.infer<Of<D>['series']>;
/** A reading of one defect that was measured. */
export type MeasuredOf<D extends Defect> = Measured<ValuesOf<D>, SeriesOf<D>>;

/** What was read of each defect. */
export type Readings = { [D in Defect]: Reading<ValuesOf<D>, SeriesOf<D>> };

/** The schema of a reading of each defect, made from the descriptors. */
export const READING_SCHEMAS = Object.fromEntries(
  DESCRIPTORS.map((d) => [
    d.defect,
    z.union([measured(d.values as z.ZodType, d.series as z.ZodType), NotMeasurable]),
  ]),
) as unknown as { readonly [D in Defect]: z.ZodType<Readings[D]> };

/** The schema of what is read of each defect. */
export const Readings: z.ZodType<Readings> = z.strictObject(READING_SCHEMAS);

/**
 * What a measure answered, where it is sound. Where it is not, that it could not be told, and why: one that errs must not lose what
 * the others read.
 */
export const soundReading = (defect: Defect, answer: unknown): Readings[Defect] => {
  const told = READING_SCHEMAS[defect].safeParse(answer);
  if (told.success) return told.data;
  const [issue] = told.error.issues;
  const { path, message } = issue.code === 'invalid_union' ? (issue.errors[0]?.[0] ?? issue) : issue;
  return notMeasurable(
    `What was read makes no sense (${path.join('.')}: ${message}). This is an error of the program: report it, with the clip.`,
  );
};

/** A figure of a reading by its path, such as `noise.lumaPct`; `null` where there is no such number. */
export const figureAt = (readings: Readings, path: string): number | string | null => {
  const [defect, name] = path.split('.');
  const reading = Object.entries(readings).find(([d]) => d === defect)?.[1];
  const value = (reading?.values as Record<string, unknown> | undefined)?.[name];
  return typeof value === 'number' || typeof value === 'string' ? value : null;
};

/** The figures of a reading in words and units, in the order in which they are read; none where it was not measured. */
export const figuresOf = (readings: Readings, defect: Defect): (readonly [label: string, text: string])[] => {
  const reading = readings[defect];
  if (reading.state === 'notMeasurable') return [];
  const { figures, alsoFigures } = descriptorOf(defect);
  const values = reading.values as Record<string, unknown>;
  const told = Object.entries(figures).flatMap(([name, { label, unit, words }]) => {
    const text = words ? words(values) : inUnits(values[name], unit);
    return text === null ? [] : [[label, text] as const];
  });
  return [...told, ...(alsoFigures?.(values) ?? [])];
};

const inUnits = (value: unknown, unit: string): string | null => {
  if (value === undefined) return null;
  if (value === null) return 'none';
  return typeof value === 'number' ? amount(value, unit) : String(value);
};

/** The series of a reading with their words, for charts and sheets. */
export const seriesOf = (
  readings: Readings,
  defect: Defect,
): { label: string; unit: string; values: (number | null)[] }[] => {
  const reading = readings[defect];
  if (reading.state === 'notMeasurable') return [];
  const series = reading.series as Record<string, (number | null)[]>;
  return Object.entries(descriptorOf(defect).seriesLabels).flatMap(([name, words]) =>
    series[name] ? [{ ...words, values: series[name] }] : [],
  );
};
