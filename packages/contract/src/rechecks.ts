import { z } from 'zod';
import { Recheck, RecheckVerdict } from '@bevrin/core/document';
import { TrialState } from './trials.js';

/** What a person said of a repaired file, and when; nothing under it changes afterwards. */
export const RecheckSigned = z.strictObject({
  how: z.enum(['signedOff', 'sentBack']),
  who: z.string(),
  at: z.iso.datetime(),
  /** Why it goes back, or with what remark it was signed. */
  reason: z.string(),
  /** Who repairs it again, where it goes back and that is known. */
  assignee: z.string().optional(),
});
export type RecheckSigned = z.infer<typeof RecheckSigned>;

/** A reason of a recheck that a person let stand, and why. */
export const RecheckWaiver = z.strictObject({
  about: z.string().min(1),
  who: z.string(),
  at: z.iso.datetime(),
  reason: z.string().min(1),
});
export type RecheckWaiver = z.infer<typeof RecheckWaiver>;

/** A repaired file that came back for a clip, and what its recheck found. */
export const ClipRecheck = z.strictObject({
  id: z.uuid(),
  clipId: z.uuid(),
  /** The version that came back: its number within the clip, and the name of its file. */
  version: z.int().positive(),
  versionId: z.uuid(),
  /** The number of the version that it was made from, */
  madeFrom: z.int().positive().nullable(),
  /** and the approval of the plan that it was made by; `null` where none was approved. */
  madeBy: z.strictObject({ id: z.int(), who: z.string(), at: z.iso.datetime() }).nullable(),
  file: z.string(),
  who: z.string(),
  state: TrialState,
  progress: z.number().min(0).max(1),
  error: z.string().nullable(),
  recheck: Recheck.nullable(),
  /** Reasons that do not count, */
  waived: z.array(RecheckWaiver),
  /** and the verdict without them; `null` while there is none. */
  verdict: RecheckVerdict.nullable(),
  /** Frames of the original that it shows, both inside; `null` while that is not known. */
  range: z.strictObject({ startFrame: z.int().nonnegative(), endFrame: z.int().nonnegative() }).nullable(),
  signed: RecheckSigned.nullable(),
  createdAt: z.iso.datetime(),
});
export type ClipRecheck = z.infer<typeof ClipRecheck>;

/** Repaired files that lie in a folder of the house. */
export const ReturnFolder = z.strictObject({
  who: z.string().trim().min(1, 'Say who returns it.').max(80).optional(),
  path: z.string().min(1),
});
export type ReturnFolder = z.infer<typeof ReturnFolder>;

/** A repaired file: where it lies in the house, or what was sent of it. */
export const ReturnFile = z
  .strictObject({
    who: z.string().trim().min(1, 'Say who returns it.').max(80).optional(),
    path: z.string().min(1).optional(),
    upload: z.string().min(1).max(200).optional(),
    /** The version that it was made from; the one that is looked at, where it is not said. */
    madeFrom: z.uuid().optional(),
    /** The approval of the plan that it was made by; the newest one that stands, where it is not said. */
    plan: z.int().positive().optional(),
  })
  .refine((r) => (r.path === undefined) !== (r.upload === undefined), {
    message: 'Name the path of the file, or what was sent of it.',
    path: ['path'],
  });
export type ReturnFile = z.infer<typeof ReturnFile>;

/** A repaired file for which it is not certain which clip it was made of. */
export const AskedReturn = z.strictObject({
  file: z.string(),
  path: z.string(),
  /** Why it is asked. */
  because: z.string(),
  /** The clips that it may be made of, the likeliest first. */
  candidates: z.array(z.strictObject({ clipId: z.uuid(), name: z.string() })),
});
export type AskedReturn = z.infer<typeof AskedReturn>;

/** What came of repaired files that were looked for in a folder. */
export const ReturnedFiles = z.strictObject({
  returned: z.array(
    z.strictObject({
      file: z.string(),
      clipId: z.uuid(),
      name: z.string(),
      /** What told the clip. */
      by: z.enum(['name', 'picture']),
    }),
  ),
  asked: z.array(AskedReturn),
  /** Files that could not be taken, each with its reason. */
  refused: z.array(z.string()),
});
export type ReturnedFiles = z.infer<typeof ReturnedFiles>;

/** What becomes of a repaired file. */
export const SignRecheck = z
  .strictObject({
    who: z.string().trim().min(1, 'Say who signs.').max(80).optional(),
    how: z.enum(['signedOff', 'sentBack']),
    reason: z.string().trim().max(2000).default(''),
    /** Who is to repair it again, where it goes back; who did it before, where it is not said. */
    assignee: z.string().trim().max(80).optional(),
  })
  .refine((s) => s.how === 'signedOff' || s.reason !== '', {
    message: 'Say why it goes back.',
    path: ['reason'],
  });
export type SignRecheck = z.infer<typeof SignRecheck>;

/** A reason of a recheck that is let stand, or counts again. */
export const WaiveReason = z.strictObject({
  who: z.string().trim().min(1, 'Say who waives it.').max(80).optional(),
  about: z.string().min(1),
  /** Why it is let stand; `null` where it counts again. */
  reason: z.string().trim().min(1, 'Say why it is let stand.').max(2000).nullable(),
});
export type WaiveReason = z.infer<typeof WaiveReason>;
