import type { DeliverySpec, Judgement, Measurement } from '@bevrin/contract';
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
