import { z } from 'zod';
import { Subject, Verdict } from './defects.js';
import { HarmName, HarmValues } from './gain-and-harm.js';
import { SpecName } from './document.js';

/** How a repaired file lies in its original. */
export const Alignment = z.strictObject({
  /** The frame of the original that the repaired file begins with; below 0 where it has a handle before. */
  frameOffset: z.int(),
  /** How much larger the picture is shown, pixels of the repaired file over pixels of the original. */
  scale: z.number().positive(),
  /** Picture that is gone, % of the axis that lost more. */
  cropPct: z.number().nonnegative(),
  rotationDeg: z.number(),
  /** How far the middle moved, pixels of the repaired file, across and down. */
  shiftPx: z.strictObject({ x: z.number(), y: z.number() }),
  /** Whether the picture was moved from frame to frame; the figures are then those in the middle. */
  steadied: z.boolean(),
  /** Brightness that changed everywhere, % of the range. */
  levelShiftPct: z.number(),
  /** 0–1. */
  confidence: z.number().min(0).max(1),
});
export type Alignment = z.infer<typeof Alignment>;

/** One reading on both sides of a repair. */
export const RecheckedReading = z.strictObject({
  defect: Subject,
  reading: z.string(),
  unit: z.string(),
  before: z.number().nullable(),
  after: z.number().nullable(),
  /** What the plan expected it to come to; `null` where it does not treat it. */
  expected: z.number().nullable(),
  pass: z.number(),
  fail: z.number(),
  verdictBefore: Verdict,
  verdictAfter: Verdict,
});
export type RecheckedReading = z.infer<typeof RecheckedReading>;

/** A figure of harm against its limit. */
export const JudgedHarm = z.strictObject({
  name: HarmName,
  value: z.number().nullable(),
  pass: z.number(),
  fail: z.number(),
  verdict: Verdict,
  /** The worst place: pixels of the original, on which both lie, and a frame of the repaired file. */
  at: z.strictObject({ x: z.number(), y: z.number(), frame: z.int().nonnegative() }).nullable(),
});
export type JudgedHarm = z.infer<typeof JudgedHarm>;

/** What was not there before: how bad it is, a sentence, and where to look in the repaired file. */
export const NewFinding = z.strictObject({
  what: z.string(),
  verdict: z.enum(['marginal', 'fail']),
  because: z.string().min(1),
  frame: z.int().nonnegative().nullable(),
});
export type NewFinding = z.infer<typeof NewFinding>;

/** Something that speaks against a repair, and where to look. */
export const RecheckReason = z.strictObject({
  /** What it is about: a reading, a figure of harm, or what is new; the same in every recheck of a clip. */
  about: z.string().min(1),
  weighs: z.enum(['marginal', 'fail']),
  says: z.string().min(1),
  /** Frames of the repaired file, both inside; `null` where it holds for the whole. */
  frames: z.strictObject({ startFrame: z.int().nonnegative(), endFrame: z.int().nonnegative() }).nullable(),
  /** A place in the picture, pixels of the original. */
  at: z.strictObject({ x: z.number(), y: z.number() }).nullable(),
});
export type RecheckReason = z.infer<typeof RecheckReason>;

/** What may become of a repaired file. */
export const RECHECK_VERDICTS = ['accepted', 'acceptedWithRemarks', 'sendBack'] as const;
/** The schema of a verdict of a recheck. */
export const RecheckVerdict = z.enum(RECHECK_VERDICTS);
export type RecheckVerdict = z.infer<typeof RecheckVerdict>;

/** What people call each verdict of a recheck. */
export const RECHECK_VERDICT_NAMES: Record<RecheckVerdict, string> = {
  accepted: 'accepted',
  acceptedWithRemarks: 'accepted with remarks',
  sendBack: 'send back',
};

/** A repaired file against its original. */
export const Recheck = z.strictObject({
  schema: z.literal('bevrin.recheck/1'),
  original: z.string(),
  repaired: z.string(),
  spec: SpecName,
  /** `null` where the repaired file cannot be laid over the original. */
  alignment: Alignment.nullable(),
  readings: z.array(RecheckedReading),
  harm: HarmValues,
  /** Why a figure of harm is not there. */
  notMeasurable: z.record(z.string(), z.string()),
  harmJudged: z.array(JudgedHarm),
  newFindings: z.array(NewFinding),
  verdict: RecheckVerdict,
  /** Reasons in sentences, the weightiest first. */
  because: z.array(z.string().min(1)).min(1),
  /** What speaks against it, each with its place, in the same order; rechecks of earlier versions have none. */
  reasons: z.array(RecheckReason).default([]),
});
export type Recheck = z.infer<typeof Recheck>;

/** The verdict of a recheck where some reasons do not count. */
export const verdictWithout = (
  { reasons, verdict }: Pick<Recheck, 'reasons' | 'verdict'>,
  aside: readonly string[],
): RecheckVerdict => {
  const left = reasons.filter((r) => !aside.includes(r.about));
  if (left.length === reasons.length) return verdict;
  // What a person has set aside is a remark.
  return left.some((r) => r.weighs === 'fail') ? 'sendBack' : 'acceptedWithRemarks';
};
