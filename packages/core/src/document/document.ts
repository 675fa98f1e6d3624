import { z } from 'zod';
import { Subject, Verdict } from './defects.js';
import { Interval, MeasuredClip, MeasuredUnder, Region, Shot } from '../terms/index.js';
import { Readings } from './readings.js';

/** One reading set against one limit. Severity and the shares of time and picture are 0–100; frames are inclusive. */
export const Finding = z.strictObject({
  defect: Subject,
  value: z.number().nullable(),
  unit: z.string(),
  reading: z.string(),
  pass: z.number(),
  fail: z.number(),
  severity: z.number().min(0).max(100),
  /** How much this defect matters to the delivery beside the others; priority weighs it. */
  weight: z.number().positive(),
  verdict: Verdict,
  /** Between which the truth lies in nine of ten cases; `null` where that is not known. */
  interval: Interval.nullable().default(null),
  /** What it could be as well, where the interval spans a limit. */
  could: Verdict.nullable().default(null),
  startFrame: z.int().nonnegative(),
  endFrame: z.int().nonnegative(),
  /** Share of the time, and of the picture, in which it shows. */
  sharePct: z.number().min(0).max(100),
  areaPct: z.number().min(0).max(100),
  regions: z.array(Region),
  because: z.string().min(1),
});
export type Finding = z.infer<typeof Finding>;

/** In the order in which the work must be done. */
export const TREATMENTS = [
  'conform',
  'correctPixels',
  'correctSpots',
  'removeSpecks',
  'deflicker',
  'reduceNoise',
  'straightenRows',
  'stabilise',
  'rebuildFrames',
  'reduceMoire',
  'deband',
  'scale',
  'sharpen',
  'grain',
] as const;

/** The schema of the name of a treatment. */
export const TreatmentName = z.enum(TREATMENTS);
export type TreatmentName = z.infer<typeof TreatmentName>;

/** What people call each treatment. */
export const TREATMENT_NAMES: Record<(typeof TREATMENTS)[number], string> = {
  conform: 'Conform',
  correctPixels: 'Correct the faulty pixels',
  correctSpots: 'Correct the lens spots',
  removeSpecks: 'Remove specks',
  deflicker: 'Deflicker',
  reduceNoise: 'Reduce noise',
  straightenRows: 'Straighten the rows',
  stabilise: 'Stabilise',
  rebuildFrames: 'Rebuild blurred frames',
  reduceMoire: 'Reduce moiré',
  deband: 'Deband',
  scale: 'Scale once',
  sharpen: 'Sharpen',
  grain: 'Bring grain back',
};

/** One setting of a treatment: a figure in the unit that its name ends with, a word, a switch, or rows of figures. */
export const SettingValue = z.union([z.number(), z.string(), z.boolean(), z.array(z.array(z.number()))]);
export type SettingValue = z.infer<typeof SettingValue>;

/** How far a plan goes: just enough to pass, with room to spare, or as good as it gets. */
export const PLAN_SIZES = ['enough', 'recommended', 'best'] as const;
/** The schema of the name of a plan size. */
export const PlanSize = z.enum(PLAN_SIZES);
export type PlanSize = z.infer<typeof PlanSize>;
/** What people call each plan size. */
export const PLAN_SIZE_NAMES: Record<PlanSize, string> = {
  enough: 'Just enough',
  recommended: 'Recommended',
  best: 'Best possible',
};

const Expectation = z.strictObject({
  reading: z.string(),
  unit: z.string(),
  from: z.number(),
  to: z.number(),
});

/** One step of a repair plan: what is done, where, with which settings, and what is expected of it. */
export const Step = z.strictObject({
  order: z.int().positive(),
  priority: z.int().positive(),
  treatment: TreatmentName,
  defect: Subject,
  settings: z.record(z.string(), SettingValue),
  /** Where it works; no regions are the whole picture. */
  where: z.strictObject({
    startFrame: z.int().nonnegative(),
    endFrame: z.int().nonnegative(),
    regions: z.array(Region),
  }),
  expect: Expectation,
  risks: z.array(z.string()).min(1),
  check: z.array(z.string()).min(1),
  /** What to try when it does not come out as expected. */
  fallback: z.array(z.string()).min(1),
  /** Chance that it brings the reading to where it is expected, 0–1. */
  confidence: z.number().min(0).max(1),
  cost: z.strictObject({
    /** Render time over the time to play the clip. */
    renderWeight: z.number().nonnegative(),
    artistMinutes: z.number().nonnegative(),
    cropPct: z.number().nonnegative(),
  }),
  because: z.string().min(1),
});
export type Step = z.infer<typeof Step>;

/** A finding that no treatment mends, and what to do about it. */
export const NotRepairable = z.strictObject({
  defect: Subject,
  reading: z.string(),
  instead: z.enum(['replace', 'shoot again', 'waive']),
  because: z.string().min(1),
});
export type NotRepairable = z.infer<typeof NotRepairable>;

/** What a plan of one size does, costs and brings. */
export const PlanOutline = z.strictObject({
  treatments: z.array(TreatmentName),
  renderWeight: z.number().nonnegative(),
  artistMinutes: z.number().nonnegative(),
  cropPct: z.number().nonnegative(),
  /** What each reading that is treated is expected to come to once all of the steps are done. */
  results: z.array(Expectation.extend({ defect: Subject, verdict: Verdict })),
});
export type PlanOutline = z.infer<typeof PlanOutline>;

/** A repair plan in the order of work, what cannot be repaired, and plans of other sizes in outline. */
export const Plan = z.strictObject({
  steps: z.array(Step),
  notRepairable: z.array(NotRepairable),
  /** How steps of this plan help or hurt each other. */
  together: z.array(z.string()),
  sizes: z.record(PlanSize, PlanOutline),
});
export type Plan = z.infer<typeof Plan>;

/** Which version of which delivery spec something was judged under. */
export const SpecName = z.strictObject({ id: z.string(), name: z.string(), version: z.int().positive() });

/** What was seen: everything that does not change when a limit moves. */
export const Measurement = z.strictObject({
  schema: z.literal('bevrin.measure/1'),
  clip: MeasuredClip,
  /** What a technician decided about how it was measured; nothing where the machine was left to itself. */
  measuredUnder: MeasuredUnder,
  shots: z.array(Shot).min(1),
  readings: Readings,
});
export type Measurement = z.infer<typeof Measurement>;

/** A measurement judged under one delivery spec. */
export const Judgement = z.strictObject({
  spec: SpecName,
  findings: z.array(Finding),
  verdict: Verdict,
  plan: Plan,
});
export type Judgement = z.infer<typeof Judgement>;

/** What is measured of one clip, and how it stands under one delivery spec: what the command prints. */
export const MeasureDocument = z.strictObject({ ...Measurement.shape, ...Judgement.shape });
export type MeasureDocument = z.infer<typeof MeasureDocument>;
