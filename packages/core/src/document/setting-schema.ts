import { z } from 'zod';
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

/** A treatment that can be tried, and with which settings. */
export const TriableTreatment = z.strictObject({
  treatment: TreatmentName,
  /** The setting whose values a trial compares. */
  swept: z.string(),
  settings: z.record(z.string(), SettingSchema),
});
export type TriableTreatment = z.infer<typeof TriableTreatment>;
