import type { DeliverySpec, Judgement, Measurement, Summary } from '#document';
import { planFor } from '../planning/plan.js';
import { findingsOf, verdictOf } from './judge.js';

/** Judges a stored measurement under a delivery spec. Nothing is measured again: moving a limit costs microseconds. */
export const scoreMeasurement = (measurement: Measurement, spec: DeliverySpec): Judgement => {
  const findings = findingsOf(measurement, spec);
  return {
    spec: { id: spec.id, name: spec.name, version: spec.version },
    findings,
    verdict: verdictOf(findings),
    plan: planFor(findings, measurement),
  };
};

/** What a list shows of a clip that was judged. */
export const summaryOf = ({ clip, readings: { shake } }: Measurement, judgement: Judgement): Summary => {
  const { spec, findings, plan } = judgement;
  const first = plan.steps.find((s) => s.priority === 1);
  return {
    spec,
    camera: shake.state === 'measured' ? shake.values.camera : null,
    levelPct: clip.meanLumaPct,
    findings: findings.map(({ defect, reading, value, unit, severity, verdict }) => ({
      defect,
      reading,
      value,
      unit,
      severity,
      verdict,
    })),
    steps: plan.steps.length,
    firstStep: first ? { treatment: first.treatment, expect: first.expect } : null,
    lost: plan.notRepairable[0] ?? null,
  };
};
