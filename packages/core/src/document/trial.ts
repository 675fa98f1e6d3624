import { z } from 'zod';
import { Subject } from './defects.js';
import { SettingValue, TreatmentName } from './document.js';

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

/** One setting that was tried. */
export const TrialRun = z.strictObject({
  /** By treatment, in the order in which they ran. */
  steps: z.array(z.strictObject({ treatment: TreatmentName, settings: z.record(z.string(), SettingValue) })),
  /** Of the treatment; of a whole plan that of its last step. */
  settings: z.record(z.string(), SettingValue),
  gain: z.array(ReadingChange),
  harm: HarmValues,
  /** Why a figure of harm is not there. */
  notMeasurable: z.record(z.string(), z.string()),
  /** Readings that got worse, beyond their own uncertainty. */
  worse: z.array(ReadingChange),
  secondsPerFrame: z.number().nonnegative(),
  /** Where its frames are, stored without loss; `null` where they were not kept. */
  file: z.string().nullable(),
});
export type TrialRun = z.infer<typeof TrialRun>;

/** A treatment on some frames with several settings, and which of them the machine would take. */
export const Trial = z.strictObject({
  schema: z.literal('bevrin.trial/1'),
  clip: z.string(),
  range: z.strictObject({ startFrame: z.int().nonnegative(), endFrame: z.int().nonnegative() }),
  runs: z.array(TrialRun),
  choice: z.strictObject({
    /** Index into the runs; `null` where no setting is worth it. */
    run: z.int().nonnegative().nullable(),
    because: z.string().min(1),
  }),
});
export type Trial = z.infer<typeof Trial>;
