import { z } from 'zod';
import { SettingValue, TreatmentName } from './document.js';
import { HarmValues, ReadingChange } from './gain-and-harm.js';

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
  /** Where a figure of harm is at its worst: clip pixels, and a frame of the clip. */
  worstAt: z.record(
    z.string(),
    z.strictObject({ x: z.number(), y: z.number(), frame: z.int().nonnegative() }),
  ),
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

/** The trial that stands behind a step: what its settings did to some frames of the clip. */
export const TriedStep = z.strictObject({
  trial: z.uuid(),
  /** Index of the run with the step's settings; `null` where the trial found no setting worth it. */
  run: z.int().nonnegative().nullable(),
  /** Whether a person took it, or the machine that tried without being asked. */
  by: z.enum(['person', 'machine']),
  because: z.string(),
  range: Trial.shape.range,
  gain: z.array(ReadingChange),
  harm: HarmValues.nullable(),
  worse: z.array(ReadingChange),
  secondsPerFrame: z.number().nonnegative().nullable(),
});
export type TriedStep = z.infer<typeof TriedStep>;
