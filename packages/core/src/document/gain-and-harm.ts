import { z } from 'zod';
import { Subject } from './defects.js';

/** A reading before and after a treatment, or its expectation. */
export const ReadingChange = z.strictObject({
  defect: Subject,
  reading: z.string(),
  unit: z.string(),
  from: z.number(),
  to: z.number(),
});
export type ReadingChange = z.infer<typeof ReadingChange>;

const Measured = z.number().nullable();

/** What a treatment did to the picture besides; `null` where the frames cannot show it. docs/harm.md says how. */
export const HarmValues = z.strictObject({
  detailKeptPct: Measured,
  mediumDetailKeptPct: Measured,
  takenStructurePct: Measured,
  smearPct: Measured,
  ghostPct: Measured,
  bendPx: Measured,
  worstBendPx: Measured,
  haloPct: Measured,
  grainEvenness: Measured,
  cropPct: Measured,
  levelShiftPct: Measured,
  cbShiftPct: Measured,
  crShiftPct: Measured,
});
export type HarmValues = z.infer<typeof HarmValues>;

/** The name of a figure of harm. */
export const HarmName = HarmValues.keyof();
export type HarmName = z.infer<typeof HarmName>;

/** Figures of which more is better: the others grow with the harm. */
export const KEPT_FIGURES: readonly HarmName[] = ['detailKeptPct', 'mediumDetailKeptPct', 'grainEvenness'];

/** What a repair may cost: at `pass` or better it may, beyond `fail` it may not, between the two it is marginal. */
export const HarmLimit = z
  .strictObject({ name: HarmName, pass: z.number(), fail: z.number() })
  .refine((l) => (KEPT_FIGURES.includes(l.name) ? l.fail < l.pass : l.fail > l.pass), {
    message: 'fail must be worse than pass',
    path: ['fail'],
  });
export type HarmLimit = z.infer<typeof HarmLimit>;

/** What a delivery allows where it says nothing of its own. */
export const USUAL_HARM_LIMITS: readonly HarmLimit[] = [
  { name: 'detailKeptPct', pass: 85, fail: 70 },
  { name: 'mediumDetailKeptPct', pass: 92, fail: 82 },
  { name: 'smearPct', pass: 12, fail: 25 },
  { name: 'ghostPct', pass: 6, fail: 14 },
  { name: 'bendPx', pass: 0.35, fail: 0.8 },
  { name: 'haloPct', pass: 5, fail: 10 },
  { name: 'grainEvenness', pass: 0.3, fail: 0.1 },
  { name: 'cropPct', pass: 12, fail: 25 },
  { name: 'levelShiftPct', pass: 1, fail: 2.5 },
  { name: 'cbShiftPct', pass: 0.7, fail: 1.5 },
  { name: 'crShiftPct', pass: 0.7, fail: 1.5 },
];
