import {
  isExpected,
  rationalToNumber,
  type ClipFacts,
  type DecidedPlan,
  type DecidedStep,
  type DecisionMade,
  type Finding,
  type Plan,
  type Step,
  type TreatmentName,
  type TriedStep,
  type Trial,
} from '#document';
import { RUNNERS } from '../treatments/runners.js';

/** A trial of one treatment that is kept with its clip. */
export interface KeptTrial {
  readonly id: string;
  readonly treatment: TreatmentName;
  readonly by: TriedStep['by'];
  readonly trial: Trial;
}

/**
 * A plan whose steps begin with what the machine tried: the swept setting as the trial chose it.
 * @param trials from the first to the last; those that a person asked for change nothing by themselves
 */
export const openedWith = (plan: Plan, trials: readonly KeptTrial[]): Plan => ({
  ...plan,
  steps: plan.steps.map((step) => {
    const own = trials.findLast((t) => t.by === 'machine' && t.treatment === step.treatment);
    const run = own?.trial.choice.run ?? null;
    const swept = RUNNERS[step.treatment]?.swept;
    if (!own || run === null || swept === undefined) return step;
    return { ...step, settings: { ...step.settings, [swept]: own.trial.runs[run].settings[swept] } };
  }),
});

/**
 * Puts behind each step the trial of its settings: what it is expected to bring, the chance that it does and what it costs
 * to render are then what was found.
 * @param trials from the first to the last
 */
export const withTrials = (
  plan: DecidedPlan,
  trials: readonly KeptTrial[],
  {
    decisions,
    findings,
    clip,
  }: {
    readonly decisions: readonly DecisionMade[];
    readonly findings: readonly Finding[];
    readonly clip: Pick<ClipFacts, 'frameRate'>;
  },
): DecidedPlan => ({
  ...plan,
  steps: plan.steps.map((step) => {
    const own = trials.filter((t) => t.treatment === step.treatment);
    const evidence = evidenceFor(step, own, takenFrom(step.treatment, decisions));
    return evidence ? foundBy(step, evidence, findings, rationalToNumber(clip.frameRate)) : step;
  }),
});

interface Evidence extends KeptTrial {
  readonly run: number | null;
}

/** The run that a person took the settings from, if that was the last word on them. */
const takenFrom = (
  treatment: TreatmentName,
  decisions: readonly DecisionMade[],
): { readonly id: string; readonly run: number } | undefined => {
  const last = decisions.findLast(
    ({ undone, decision }) => !undone && decision.kind === 'settings' && decision.treatment === treatment,
  )?.decision;
  return last?.kind === 'settings' ? last.trial : undefined;
};

/** The newest trial that ran with a step's settings; where none did, one that found nothing worth it. */
const evidenceFor = (
  step: DecidedStep,
  trials: readonly KeptTrial[],
  taken: { readonly id: string; readonly run: number } | undefined,
): Evidence | null => {
  const pinned = trials.find((t) => t.id === taken?.id);
  if (pinned && taken && taken.run < pinned.trial.runs.length) return { ...pinned, run: taken.run };
  for (const kept of [...trials].reverse()) {
    const run = kept.trial.runs.findIndex((r) => isSame(step.settings, r.settings));
    const isNoneWorthIt = kept.trial.choice.run === null && isToldBy(kept.trial, step);
    if (run >= 0) return { ...kept, run: isNoneWorthIt ? null : run };
  }
  return null;
};

/** Whether the frames of a trial tell what a step is to bring: where they do not, it says nothing for or against it. */
const isToldBy = ({ runs }: Trial, step: DecidedStep): boolean =>
  runs.some(({ gain }) => gain.some((g) => isExpected(step, g)));

/** Whether a run had the settings of a step, as far as it knows them. */
const isSame = (settings: Step['settings'], ran: Step['settings']): boolean =>
  Object.entries(settings).every(
    ([name, value]) => !(name in ran) || JSON.stringify(ran[name]) === JSON.stringify(value),
  );

/** The chance that what held on the frames of a trial holds on the clip, by what they came to. */
const CHANCE = { pass: 0.95, marginal: 0.6, fail: 0.2 } as const;
/** Where no setting was worth it. */
const NO_CHANCE = 0.05;

const foundBy = (
  step: DecidedStep,
  { id, by, run, trial }: Evidence,
  findings: readonly Finding[],
  framesPerSecond: number,
): DecidedStep => {
  const { range, choice, runs } = trial;
  const ran = run === null ? null : runs[run];
  const tried: TriedStep = {
    trial: id,
    run,
    by,
    because: run === choice.run || run === null || !isToldBy(trial, step) ? choice.because : 'Taken by hand.',
    range,
    gain: ran?.gain ?? [],
    harm: ran?.harm ?? null,
    worse: ran?.worse ?? [],
    secondsPerFrame: ran?.secondsPerFrame ?? null,
  };
  if (!ran) return { ...step, tried, confidence: NO_CHANCE };
  const cost = { ...step.cost, renderWeight: rounded(ran.secondsPerFrame * framesPerSecond) };
  const found = ran.gain.find((g) => isExpected(step, g));
  const limit = findings.find((f) => isExpected(step, f));
  if (!found || !limit) return { ...step, tried, cost };
  // Frames of a trial need not be as bad as the clip: what is left is taken as a share of what was there, before this step,
  // or before those that it was tried after.
  const there = ran.steps.length > 1 ? (limit.value ?? step.expect.from) : step.expect.from;
  const to = found.from > 0 ? (there * found.to) / found.from : found.to;
  const verdict = to <= limit.pass ? 'pass' : to <= limit.fail ? 'marginal' : 'fail';
  return {
    ...step,
    tried,
    cost,
    expect: { ...step.expect, to: Number(to.toPrecision(3)) },
    confidence: CHANCE[verdict],
  };
};

const rounded = (value: number): number => Number(value.toFixed(1));
