import {
  isOfReading,
  TREATMENTS,
  type DecidedPlan,
  type DecidedStep,
  type Decision,
  type DecisionMade,
  type Finding,
  type FrameNote,
  type Measurement,
  type Overrides,
  type Plan,
  type ReadingName,
  type Standing,
  type Step,
} from '#document';
import { verdictOf } from '../scoring/judge.js';
import { isHopeless, type Task, type Treatment } from './treatment.js';
import { TREATMENTS_IN_ORDER } from './treatments.js';

/** A step that a person asks for is aimed at this share of what is there. */
const BY_HAND_TARGET = 0.5;

/**
 * The plan as it stands after what was decided, in the order in which it was decided. What was taken back plays no part.
 * @param decisions from the first to the last
 */
export const decidedPlan = (
  proposed: Plan,
  findings: readonly Finding[],
  measurement: Measurement,
  decisions: readonly DecisionMade[],
): DecidedPlan => {
  const under: Folded = {
    steps: proposed.steps.map((s) => ({ ...s, byHand: false, changed: false, note: '' })),
    dropped: new Map(),
    waived: [],
    disputed: [],
    assignee: '',
    approved: null,
  };
  for (const made of decisions.filter((d) => !d.undone)) fold(under, made, findings, measurement);
  const { dropped, waived, disputed, assignee, approved } = under;
  const aside = [...waived, ...disputed];
  const stays = under.steps.filter(
    (s) => !dropped.has(s.treatment) && !isAmong(aside, { defect: s.defect, reading: s.expect.reading }),
  );
  // A step that a person asked for stays, whatever it goes with.
  const kept = stays.filter(({ treatment, byHand }) => {
    const { needs } = treatmentNamed(treatment);
    return byHand || !needs || stays.some((s) => s.treatment === needs);
  });
  const priorities = [...kept].sort((a, b) => a.priority - b.priority);
  return {
    steps: kept.map((s, i) => ({ ...s, order: i + 1, priority: priorities.indexOf(s) + 1 })),
    dropped: [...dropped].map(([treatment, reason]) => ({ treatment, reason })),
    waived,
    disputed,
    brokenRules: brokenRules(kept),
    assignee,
    approved,
    verdict: verdictOf(findings.filter((f) => !isAmong(aside, f))),
  };
};

/** A plan while decisions are laid over it, one after the other. */
interface Folded {
  steps: DecidedStep[];
  readonly dropped: Map<Step['treatment'], string>;
  readonly waived: DecidedPlan['waived'];
  readonly disputed: DecidedPlan['disputed'];
  assignee: string;
  approved: DecidedPlan['approved'];
}

/** Lays one decision over a plan. */
const fold = (
  plan: Folded,
  { decision, who, at }: DecisionMade,
  findings: readonly Finding[],
  measurement: Measurement,
): void => {
  const change = (treatment: Step['treatment'], how: (s: DecidedStep) => DecidedStep): void => {
    plan.steps = plan.steps.map((s) => (s.treatment === treatment ? how(s) : s));
  };
  switch (decision.kind) {
    case 'order':
      plan.steps = inOrder(plan.steps, decision.treatments);
      break;
    case 'settings':
      change(decision.treatment, (s) => revised(s, decision.settings, findings, measurement));
      break;
    case 'drop':
      plan.dropped.set(decision.treatment, decision.reason);
      break;
    case 'keep':
      plan.dropped.delete(decision.treatment);
      break;
    case 'add':
      plan.dropped.delete(decision.treatment);
      plan.steps = withStep(
        plan.steps,
        stepByHand(decision.treatment, findings, measurement),
        decision.reason,
      );
      if (decision.settings) {
        const { settings } = decision;
        change(decision.treatment, (s) => revised(s, settings, findings, measurement));
      }
      break;
    case 'waive':
    case 'notDefect': {
      const { kind, defect, reading, reason } = decision;
      (kind === 'waive' ? plan.waived : plan.disputed).push({ defect, reading, reason });
      break;
    }
    case 'note':
      change(decision.treatment, (s) => ({ ...s, note: decision.text }));
      break;
    case 'assign':
      plan.assignee = decision.to;
      break;
    case 'approve':
      plan.approved = { who, at };
      break;
    case 'reopen':
      plan.approved = null;
      break;
    case 'overrule':
    case 'frameNote':
      break;
  }
};

/** The steps with one more in its place, unless it is among them. */
const withStep = (steps: readonly DecidedStep[], step: DecidedStep | null, note: string): DecidedStep[] =>
  step && !steps.some((s) => s.treatment === step.treatment)
    ? [...steps, { ...step, note }].sort((a, b) => rankOf(a) - rankOf(b))
    : [...steps];

const isAmong = (some: readonly ReadingName[], one: ReadingName): boolean => some.some(isOfReading(one));

/** Kinds of decisions that change how a clip stands in a list: verdict, assignee, approval. */
export const STANDING_DECISIONS = [
  'waive',
  'notDefect',
  'assign',
  'approve',
  'reopen',
] as const satisfies readonly Decision['kind'][];

/** How a clip stands after what was decided, for a list: the same verdict as its decided plan's. */
export const standingOf = (
  findings: readonly (ReadingName & Pick<Finding, 'verdict'>)[],
  decisions: readonly Pick<DecisionMade, 'decision' | 'undone'>[],
): Standing => {
  const made = decisions.flatMap((d) => (d.undone ? [] : [d.decision]));
  const aside = made.filter((d) => d.kind === 'waive' || d.kind === 'notDefect');
  return {
    verdict: verdictOf(findings.filter((f) => !isAmong(aside, f))),
    assignee: made.findLast((d) => d.kind === 'assign')?.to ?? '',
    approved: made.findLast((d) => d.kind === 'approve' || d.kind === 'reopen')?.kind === 'approve',
  };
};

/** How a technician overruled the measurement: the last word that was not taken back. */
export const overridesAfter = (decisions: readonly Pick<DecisionMade, 'decision' | 'undone'>[]): Overrides =>
  decisions
    .flatMap((d) => (d.undone || d.decision.kind !== 'overrule' ? [] : [d.decision.overrides]))
    .at(-1) ?? {};

/** The notes on frames that were not taken back, in the order of the frames. */
export const frameNotesOf = (decisions: readonly DecisionMade[]): FrameNote[] =>
  decisions
    .flatMap(({ decision, undone, who, at }) =>
      undone || decision.kind !== 'frameNote'
        ? []
        : [{ frame: decision.frame, text: decision.text, who, at }],
    )
    .sort((a, b) => a.frame - b.frame);

const rankOf = ({ treatment }: Pick<Step, 'treatment'>): number => TREATMENTS.indexOf(treatment);

/** In the order that was asked for; what it does not name stays behind what it stood behind. */
const inOrder = (steps: readonly DecidedStep[], wanted: readonly Step['treatment'][]): DecidedStep[] => {
  const place = (s: DecidedStep): number => {
    const at = wanted.indexOf(s.treatment);
    return at >= 0 ? at : wanted.length + rankOf(s);
  };
  return [...steps].sort((a, b) => place(a) - place(b));
};

/** Pairs that stand the wrong way round, each with the reason why the one must come first. */
export const brokenRules = (steps: readonly Pick<Step, 'treatment'>[]): DecidedPlan['brokenRules'] =>
  steps.flatMap((then, i) =>
    steps
      .slice(i + 1)
      .filter((first) => rankOf(first) < rankOf(then))
      .map((first) => ({
        first: first.treatment,
        then: then.treatment,
        because: treatmentNamed(first.treatment).precedes,
      })),
  );

const treatmentNamed = (name: Step['treatment']): Treatment => TREATMENTS_IN_ORDER[TREATMENTS.indexOf(name)];

const taskFor = (
  step: Pick<Step, 'defect'> & { readonly reading: string },
  findings: readonly Finding[],
  share: number,
): Task | null => {
  const finding = findings.find(isOfReading(step));
  return finding && finding.value !== null
    ? { ...finding, value: finding.value, target: share * finding.pass }
    : null;
};

const revised = (
  step: DecidedStep,
  settings: Step['settings'],
  findings: readonly Finding[],
  measurement: Measurement,
): DecidedStep => {
  const all = { ...step.settings, ...settings };
  const task = taskFor({ defect: step.defect, reading: step.expect.reading }, findings, 1);
  const brings = task && treatmentNamed(step.treatment).revise?.(all, task, measurement);
  return { ...step, settings: all, changed: true, ...(brings ?? {}) };
};

/** A step that the rules did not propose, aimed at half of what is there; `null` where there is nothing for it to do. */
export const stepByHand = (
  name: Step['treatment'],
  findings: readonly Finding[],
  measurement: Measurement,
): DecidedStep | null => {
  const named = treatmentNamed(name);
  const { treatment, defect, readings, precedes } = named;
  const finding = findings.find(
    (f) => f.defect === defect && f.value !== null && f.value > 0 && (readings?.includes(f.reading) ?? true),
  );
  if (!finding || finding.value === null) return null;
  const task: Task = {
    ...finding,
    value: finding.value,
    target: Math.min(finding.pass, BY_HAND_TARGET * finding.value),
  };
  const answer = named.byHand?.(task, measurement) ?? named.propose(task, measurement);
  if (!answer || isHopeless(answer)) return null;
  const { chance, where, ...step } = answer;
  return {
    order: 1,
    priority: Number.MAX_SAFE_INTEGER,
    treatment,
    defect,
    ...step,
    where: { startFrame: finding.startFrame, endFrame: finding.endFrame, regions: finding.regions, ...where },
    confidence: chance,
    because: `${step.because} ${precedes}`,
    byHand: true,
    changed: false,
    note: '',
  };
};
