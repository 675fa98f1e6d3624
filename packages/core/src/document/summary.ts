import { z } from 'zod';
import { Verdict } from './defects.js';
import { Finding, NotRepairable, SpecName, Step } from './document.js';

/** How a clip stands after what people decided about it. */
export const Standing = z.strictObject({
  verdict: Verdict,
  assignee: z.string(),
  approved: z.boolean(),
});
export type Standing = z.infer<typeof Standing>;

/** What a list shows of a judgement: large batches are sent whole. */
export const Summary = z.strictObject({
  spec: SpecName,
  camera: z.string().nullable(),
  /** Mean luma, % of range; `null` where it was not looked at. */
  levelPct: z.number().nullable().default(null),
  findings: z.array(
    Finding.pick({ defect: true, reading: true, value: true, unit: true, severity: true, verdict: true }),
  ),
  steps: z.int().nonnegative(),
  firstStep: Step.pick({ treatment: true, expect: true }).nullable(),
  lost: NotRepairable.nullable(),
});
export type Summary = z.infer<typeof Summary>;
