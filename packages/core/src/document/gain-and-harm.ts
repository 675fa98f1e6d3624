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
