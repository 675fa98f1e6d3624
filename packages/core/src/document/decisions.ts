import { z } from 'zod';
import { Subject, Verdict } from './defects.js';
import { Overrides } from '../terms/index.js';
import { isOfReading, type ReadingName } from './names.js';
import { Plan, SettingValue, Step, TreatmentName } from './document.js';
import { TriedStep } from './trial.js';

const Reason = z.string().trim().min(1, 'Say why.').max(2000);

/** What a technician decided about a clip: how it is measured, what is believed of it, and what is done. */
export const Decision = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('order'), treatments: z.array(TreatmentName) }),
  z.strictObject({
    kind: z.literal('settings'),
    treatment: TreatmentName,
    settings: z.record(z.string(), SettingValue),
    /** The run of a trial that they were taken from. */
    trial: z.strictObject({ id: z.uuid(), run: z.int().nonnegative() }).optional(),
  }),
  z.strictObject({ kind: z.literal('drop'), treatment: TreatmentName, reason: Reason }),
  /** Takes up again what was dropped. */
  z.strictObject({ kind: z.literal('keep'), treatment: TreatmentName }),
  z.strictObject({
    kind: z.literal('add'),
    treatment: TreatmentName,
    reason: Reason,
    /** Settings that differ from what it would have of itself. */
    settings: z.record(z.string(), SettingValue).optional(),
  }),
  z.strictObject({ kind: z.literal('waive'), defect: Subject, reading: z.string(), reason: Reason }),
  /** The machine took something for a defect that is none. */
  z.strictObject({ kind: z.literal('notDefect'), defect: Subject, reading: z.string(), reason: Reason }),
  /** How the clip is measured from here on: all that was overruled, not only what is new. */
  z.strictObject({ kind: z.literal('overrule'), overrides: Overrides }),
  z.strictObject({
    kind: z.literal('frameNote'),
    frame: z.int().nonnegative(),
    text: z.string().trim().min(1, 'Write the note.').max(2000),
  }),
  z.strictObject({ kind: z.literal('note'), treatment: TreatmentName, text: z.string().max(2000) }),
  z.strictObject({ kind: z.literal('assign'), to: z.string().trim().max(80) }),
  z.strictObject({ kind: z.literal('approve') }),
  z.strictObject({ kind: z.literal('reopen'), reason: Reason }),
]);
export type Decision = z.infer<typeof Decision>;

/** A decision as it is sent, and who makes it. */
export const MakeDecision = z.strictObject({
  /** Who decides, where the request itself does not carry it. */
  who: z.string().trim().min(1, 'Say who decides.').max(80).optional(),
  decision: Decision,
});
export type MakeDecision = z.infer<typeof MakeDecision>;

/** A decision as it is kept: who, when, and whether it was taken back. */
export const DecisionMade = z.strictObject({
  id: z.int().positive(),
  who: z.string(),
  at: z.iso.datetime(),
  undone: z.boolean(),
  decision: Decision,
});
export type DecisionMade = z.infer<typeof DecisionMade>;

/** A step of a plan after what people decided about it. */
export const DecidedStep = Step.extend({
  /** Whether a person added it, or changed its settings. */
  byHand: z.boolean(),
  changed: z.boolean(),
  note: z.string(),
  /** What a trial found; left out where none was made. */
  tried: TriedStep.optional(),
});
export type DecidedStep = z.infer<typeof DecidedStep>;

/** Whether a reading is the one that a step is to bring down. */
export const isExpected = (step: Pick<Step, 'defect' | 'expect'>, of: ReadingName): boolean =>
  isOfReading({ defect: step.defect, reading: step.expect.reading })(of);

/** Whether what a step is expected to bring was found by a trial of its settings. */
export const isExpectedAsTried = (step: Pick<DecidedStep, 'defect' | 'expect' | 'tried'>): boolean =>
  step.tried?.gain.some((g) => isExpected(step, g)) ?? false;

/** A finding that does not count, and why. */
const SetAside = z.strictObject({ defect: Subject, reading: z.string(), reason: z.string() });

/** A note on a frame. */
export const FrameNote = z.strictObject({
  frame: z.int().nonnegative(),
  text: z.string(),
  who: z.string(),
  at: z.iso.datetime(),
});
export type FrameNote = z.infer<typeof FrameNote>;

/** The plan as it stands after what was decided. What the machine proposed stays beside it. */
export const DecidedPlan = z.strictObject({
  steps: z.array(DecidedStep),
  dropped: z.array(z.strictObject({ treatment: TreatmentName, reason: z.string() })),
  waived: z.array(SetAside),
  /** Findings that are no defects. */
  disputed: z.array(SetAside),
  /** Rules of the order of work that the steps break, with the reason for each rule. */
  brokenRules: z.array(z.strictObject({ first: TreatmentName, then: TreatmentName, because: z.string() })),
  assignee: z.string(),
  /** Who approved it and when; it is frozen until it is opened again. */
  approved: z.strictObject({ who: z.string(), at: z.iso.datetime() }).nullable(),
  /** The clip's verdict without what was waived or is no defect. */
  verdict: Verdict,
});
export type DecidedPlan = z.infer<typeof DecidedPlan>;

/** Everything about the plan of one clip. */
export const ClipPlan = z.strictObject({
  proposed: Plan,
  decided: DecidedPlan,
  frameNotes: z.array(FrameNote),
  history: z.array(DecisionMade),
});
export type ClipPlan = z.infer<typeof ClipPlan>;

/** One clip's part in the work list of a batch. */
export const WorkItem = z.strictObject({
  clipId: z.uuid(),
  clip: z.string(),
  durationSec: z.number().nonnegative(),
  /** Clips of one camera and noise can be treated with one setting. */
  alike: z.string(),
  verdict: Verdict,
  plan: DecidedPlan,
  /** Severity of the finding that each step is for, by treatment. */
  severity: z.partialRecord(TreatmentName, z.number()),
  /** What each step gains for its effort, by treatment; it compares across clips. */
  gain: z.partialRecord(TreatmentName, z.number()),
});
export type WorkItem = z.infer<typeof WorkItem>;
