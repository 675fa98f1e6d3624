import { z } from 'zod';
import { SettingValue, Sweep, TreatmentName, Trial } from '@bevrin/core/document';

/** Where a trial is on its way. `skipped` is one that the house's limit did not allow. */
export const TRIAL_STATES = ['waiting', 'running', 'done', 'failed', 'cancelled', 'skipped'] as const;
export const TrialState = z.enum(TRIAL_STATES);
export type TrialState = z.infer<typeof TrialState>;

/** What is tried: a treatment, or every step of the plan one after the other. */
export const TriedSubject = z.union([TreatmentName, z.literal('plan')]);
export type TriedSubject = z.infer<typeof TriedSubject>;

/** A trial of a clip, as its page knows it. */
export const ClipTrial = z.strictObject({
  id: z.uuid(),
  clipId: z.uuid(),
  treatment: TriedSubject,
  /** Who asked for it; empty where the machine tried by itself. */
  who: z.string(),
  state: TrialState,
  /** 0–1 of one that runs. */
  progress: z.number().min(0).max(1),
  /** Seconds that it will still take, as far as can be told. */
  secondsLeft: z.number().nonnegative().nullable(),
  /** Why it failed, or was left out, and what to do. */
  error: z.string().nullable(),
  /** Whether the frames of its runs are still kept. */
  frames: z.boolean(),
  createdAt: z.iso.datetime(),
  /** What was found; of one that runs, of the settings that are through. */
  trial: Trial.nullable(),
});
export type ClipTrial = z.infer<typeof ClipTrial>;

/** What to try. What is left out is as the plan has it. */
export const AskTrial = z.strictObject({
  who: z.string().trim().min(1, 'Say who asks.').max(80).optional(),
  treatment: TriedSubject,
  settings: z.record(z.string(), SettingValue).optional(),
  sweep: Sweep.optional(),
  range: z.strictObject({ startFrame: z.int().nonnegative(), endFrame: z.int().nonnegative() }).optional(),
});
export type AskTrial = z.infer<typeof AskTrial>;
