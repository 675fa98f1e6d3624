import type { Finding, Measurement, Plan, Step } from '@bevrin/contract';
import type { Proposal } from './treatment.js';
import { TREATMENTS_IN_ORDER } from './treatments.js';

/** Minutes that stand for the render of a clip, so that render and artist cost can be weighed together. */
const MINUTES_PER_RENDER_WEIGHT = 1;

/**
 * The repair plan of a clip: a step for each finding that does not pass and has a treatment. `order` is what must
 * precede what; `priority` is what to do first when time is short: severity × chance of success ÷ cost.
 */
export const planFor = (findings: readonly Finding[], measurement: Measurement): Plan => {
  const worth: { treatment: Step['treatment']; gain: number }[] = [];
  const steps = TREATMENTS_IN_ORDER.flatMap((treatment) => {
    const finding = findings.find(
      (f) =>
        f.defect === treatment.defect &&
        (treatment.readings?.includes(f.reading) ?? true) &&
        (f.verdict === 'fail' || f.verdict === 'marginal'),
    );
    if (!finding || finding.value === null) return [];
    const proposal = treatment.propose({ ...finding, value: finding.value }, measurement);
    if (!proposal) return [];
    const { chance, ...step } = proposal;
    worth.push({ treatment: treatment.treatment, gain: gainForEffort(finding, proposal, chance) });
    return [
      {
        treatment: treatment.treatment,
        defect: treatment.defect,
        ...step,
        because: `${step.because} ${treatment.precedes}`,
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
  };
};

const gainForEffort = (finding: Finding, { cost }: Proposal, chance: number): number =>
  (finding.severity * chance) / (cost.artistMinutes + MINUTES_PER_RENDER_WEIGHT * cost.renderWeight);
