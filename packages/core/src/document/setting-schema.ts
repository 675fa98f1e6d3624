import { z } from 'zod';
import type { SettingValue } from './document.js';
import { TreatmentName } from './document.js';

/** A setting of a treatment: what it may be, and what it is where nobody says otherwise. */
export const SettingSchema = z.discriminatedUnion('kind', [
  z.strictObject({
    kind: z.literal('number'),
    unit: z.string(),
    least: z.number(),
    most: z.number(),
    step: z.number(),
    otherwise: z.number(),
  }),
  z.strictObject({
    kind: z.literal('choice'),
    options: z.array(z.string()).readonly(),
    otherwise: z.string(),
  }),
  z.strictObject({ kind: z.literal('flag'), otherwise: z.boolean() }),
  /** Rows of numbers: places or frames. */
  z.strictObject({ kind: z.literal('rows'), columns: z.array(z.string()).readonly() }),
]);
export type SettingSchema = Readonly<z.infer<typeof SettingSchema>>;

const Values = z.strictObject({
  key: z.string(),
  values: z
    .array(z.union([z.number(), z.string(), z.boolean()]))
    .min(1)
    .max(9),
});

/** Most settings that one trial compares. */
const MOST_RUNS = 27;

/** Values of a setting that a trial compares, and of a second one, each with each. */
export const Sweep = Values.extend({ and: Values.optional() })
  .refine((s) => s.and?.key !== s.key, 'Two different settings are compared, or one.')
  .refine(
    (s) => s.values.length * (s.and?.values.length ?? 1) <= MOST_RUNS,
    `A trial compares at most ${MOST_RUNS} settings: leave some values out.`,
  );
export type Sweep = Readonly<z.infer<typeof Sweep>>;

/** Settings with each of the values that are compared, the second setting within the first. */
export const sweptSettings = (
  settings: Readonly<Record<string, SettingValue>>,
  { key, values, and }: Sweep,
): Record<string, SettingValue>[] =>
  values.flatMap((value) =>
    and
      ? and.values.map((other) => ({ ...settings, [key]: value, [and.key]: other }))
      : [{ ...settings, [key]: value }],
  );

/** A treatment that can be tried, and with which settings. */
export const TriableTreatment = z.strictObject({
  treatment: TreatmentName,
  /** The setting whose values a trial compares. */
  swept: z.string(),
  settings: z.record(z.string(), SettingSchema),
});
export type TriableTreatment = z.infer<typeof TriableTreatment>;
