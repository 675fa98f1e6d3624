import { z } from 'zod';
import { Verdict } from './defects.js';
import { SettingValue, TreatmentName } from './document.js';

/** What is set beside the other clips of a roll: softer, noisier or cleaner than they are, or brighter or darker. */
export const NEIGHBOUR_NAMES = ['softer', 'noisier', 'cleaner', 'level'] as const;
/** See {@link NEIGHBOUR_NAMES}. */
export const NeighbourName = z.enum(NEIGHBOUR_NAMES);
/** One of them. */
export type NeighbourName = z.infer<typeof NeighbourName>;

/** Units of what they are limited in: times the median of the others, or away from it. */
export const NEIGHBOUR_UNITS: Record<NeighbourName, '×' | '%'> = {
  softer: '×',
  noisier: '×',
  cleaner: '×',
  level: '%',
};

/** How far a clip may differ from the median of the others: to `pass` it may, beyond `fail` it may not. */
export const NeighbourLimit = z
  .strictObject({ name: NeighbourName, pass: z.number().positive(), fail: z.number().positive() })
  .refine((l) => l.fail > l.pass, { message: 'fail must be larger than pass', path: ['fail'] })
  .refine((l) => NEIGHBOUR_UNITS[l.name] !== '×' || l.pass > 1, {
    message: 'more than once the median of the others is asked for',
    path: ['pass'],
  });
export type NeighbourLimit = z.infer<typeof NeighbourLimit>;

/**
 * What a delivery allows where it says nothing of its own: edges half as wide again, noise twice as strong or half. A roll holds
 * day and night: its level is told where it is another by far.
 */
export const USUAL_NEIGHBOUR_LIMITS: readonly NeighbourLimit[] = [
  { name: 'softer', pass: 1.6, fail: 2.5 },
  { name: 'noisier', pass: 2, fail: 4 },
  { name: 'cleaner', pass: 2, fail: 4 },
  { name: 'level', pass: 35, fail: 60 },
];

/** How a clip differs from the others of its roll, judged. It is told beside the verdict of the file, which is its own. */
export const BesideFinding = z.strictObject({
  name: NeighbourName,
  /** Times the median of the others, or percent of the range away from it, less than nothing where it is darker. */
  value: z.number(),
  unit: z.enum(['×', '%']),
  pass: z.number(),
  fail: z.number(),
  verdict: Verdict,
  /** Its own reading and the median of the others, in the unit of the reading. */
  own: z.number(),
  others: z.number(),
  readingUnit: z.string(),
  /** What they have in common by name, and how many others were measured. */
  roll: z.string(),
  count: z.int().positive(),
  because: z.string(),
  /** What brings it to the others; `null` for a treatment where that is work of another kind. */
  match: z.strictObject({
    words: z.string(),
    treatment: TreatmentName.nullable(),
    settings: z.record(z.string(), SettingValue),
  }),
});
export type BesideFinding = z.infer<typeof BesideFinding>;
