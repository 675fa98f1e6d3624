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
  /** Beside them, where the treatment chooses its places: frames of one plane of 8 bits, 255 where it worked. */
  mask: z.string().nullable(),
  /** Beside them, where the treatment moves the picture: how far each node of a net is moved, as JSON. */
  mesh: z.string().nullable(),
});
export type TrialRun = z.infer<typeof TrialRun>;

/** A net over the picture, and how far its nodes lie from where they are drawn, frame by frame. Luma pixels. */
export const TrialMesh = z.strictObject({
  columns: z.int().positive(),
  rows: z.int().positive(),
  /** For each frame of the range the nodes row by row: across, down. */
  frames: z.array(z.array(z.number())),
});
export type TrialMesh = z.infer<typeof TrialMesh>;

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
