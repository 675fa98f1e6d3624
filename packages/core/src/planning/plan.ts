import {
  isOfReading,
  PLAN_SIZES,
  type Finding,
  type Measurement,
  type NotRepairable,
  type Plan,
  type PlanOutline,
  type PlanSize,
  type Step,
} from '#document';
import { gainForEffort } from './gain.js';
import { isHopeless, type Task } from './treatment.js';
import { TREATMENTS_IN_ORDER } from './treatments.js';
import { afterAll, cropOf, interactionsOf } from './interactions.js';

/**
 * How far each size of plan goes: what a reading is brought to, as a share of its pass limit, and from which severity on
 * a finding that passes is treated all the same. The recommended one leaves room, so that a recheck does not fail by a hair.
 */
const SIZES: Record<PlanSize, { readonly target: number; readonly passingFrom: number }> = {
  enough: { target: 1, passingFrom: Infinity },
  recommended: { target: 0.8, passingFrom: Infinity },
  best: { target: 0.5, passingFrom: 22 },
};

/**
 * The repair plan of a clip. `order` is what must precede what; `priority` is what to do first when time is short: what
 * gains most for its effort. Severity already weighs what a viewer notices.
 */
export const planFor = (
  findings: readonly Finding[],
  measurement: Measurement,
  size: PlanSize = 'recommended',
): Plan => {
  const { steps, notRepairable } = stepsFor(findings, measurement, size);
  return {
    steps,
    notRepairable,
    together: interactionsOf(steps),
    sizes: Object.fromEntries(
      PLAN_SIZES.map((each) => [
        each,
        outline(each === size ? steps : stepsFor(findings, measurement, each).steps, findings, measurement),
      ]),
    ) as Plan['sizes'],
  };
};

const stepsFor = (
  findings: readonly Finding[],
  measurement: Measurement,
  size: PlanSize,
): Pick<Plan, 'steps' | 'notRepairable'> => {
  const { target, passingFrom } = SIZES[size];
  const worth: { treatment: Step['treatment']; gain: number }[] = [];
  const notRepairable: NotRepairable[] = [];
  // What the steps so far leave of each finding.
  const left = new Map<Finding, number>();
  const done = new Set<Step['treatment']>();
  const steps = TREATMENTS_IN_ORDER.flatMap(({ treatment, defect, readings, needs, precedes, propose }) => {
    if (needs && !done.has(needs)) return [];
    const finding = findings.find(
      (f) =>
        f.defect === defect &&
        (readings?.includes(f.reading) ?? true) &&
        (f.verdict === 'fail' ||
          f.verdict === 'marginal' ||
          (f.verdict === 'pass' && f.severity >= passingFrom)),
    );
    if (!finding || finding.value === null) return [];
    const value = left.get(finding) ?? finding.value;
    const task: Task = { ...finding, value, target: target * finding.pass };
    const proposal = propose(task, measurement);
    if (!proposal) return [];
    if (isHopeless(proposal)) {
      notRepairable.push({ defect, reading: finding.reading, ...proposal });
      return [];
    }
    const { chance, where, worth: share = 1, ...step } = proposal;
    left.set(finding, step.expect.to);
    done.add(treatment);
    worth.push({
      treatment,
      gain: share * gainForEffort(finding, proposal.cost, chance, measurement.clip.durationSec),
    });
    const { startFrame, endFrame, regions } = finding;
    return [
      {
        treatment,
        defect,
        ...step,
        where: { startFrame, endFrame, regions: [...regions], ...where },
        confidence: chance,
        because: `${step.because} ${precedes}`,
      },
    ];
  });
  const byGain = [...worth].sort((a, b) => b.gain - a.gain);
  return {
    steps: steps.map((step, i) => ({
      order: i + 1,
      priority: byGain.findIndex((w) => w.treatment === step.treatment) + 1,
      ...step,
    })),
    notRepairable,
  };
};

const outline = (
  steps: readonly Step[],
  findings: readonly Finding[],
  measurement: Measurement,
): PlanOutline => ({
  treatments: steps.map((s) => s.treatment),
  renderWeight: sum(steps, (s) => s.cost.renderWeight),
  artistMinutes: sum(steps, (s) => s.cost.artistMinutes),
  cropPct: cropOf(steps),
  results: afterAll(steps, findings, measurement).map((result) => {
    const limit = findings.find(isOfReading(result));
    const verdict =
      !limit || result.to <= limit.pass ? 'pass' : result.to <= limit.fail ? 'marginal' : 'fail';
    return { ...result, verdict };
  }),
});

const sum = (steps: readonly Step[], of: (step: Step) => number): number =>
  Number(steps.reduce((total, s) => total + of(s), 0).toFixed(1));
