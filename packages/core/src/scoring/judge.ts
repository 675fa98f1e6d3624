import {
  DEFECT_NAMES,
  type DeliverySpec,
  type Finding,
  type Limit,
  type Measurement,
  type Verdict,
} from '@bevrin/contract';
import { conformFindings } from './conform.js';
import { severityOf } from './severity.js';

/** Sets a measurement against a delivery spec: one finding for each limit, worst first. */
export const findingsOf = (measurement: Measurement, spec: DeliverySpec): Finding[] =>
  [
    ...spec.limits.map((limit) => judge(measurement, limit)),
    ...conformFindings(measurement, spec.requires),
  ].sort((a, b) => RANK[b.verdict] - RANK[a.verdict] || b.severity - a.severity);

const RANK: Record<Verdict, number> = { fail: 3, incomplete: 2, marginal: 1, pass: 0 };

/** The clip's verdict: fail before incomplete before marginal; what was asked for and not measured is never a pass. */
export const verdictOf = (findings: readonly Finding[]): Verdict =>
  findings.reduce<Verdict>((worst, f) => (RANK[f.verdict] > RANK[worst] ? f.verdict : worst), 'pass');

const judge = (measurement: Measurement, limit: Limit): Finding => {
  const reading = measurement.readings[limit.defect];
  const base = {
    defect: limit.defect,
    unit: limit.unit,
    reading: limit.reading,
    pass: limit.pass,
    fail: limit.fail,
    startFrame: 0,
    endFrame: measurement.clip.frames - 1,
  };
  const name = DEFECT_NAMES[limit.defect];
  const incomplete = (because: string): Finding => ({
    ...base,
    value: null,
    severity: 0,
    verdict: 'incomplete',
    sharePct: 0,
    regions: [],
    because,
  });
  const unseen = (because: string): Finding =>
    limit.passesUnseen ? { ...incomplete(`${because} ${UNSEEN}`), verdict: 'pass' } : incomplete(because);
  if (reading.state === 'notMeasurable') return unseen(`${name} could not be measured: ${reading.reason}`);
  const value = (reading.values as Record<string, unknown>)[limit.reading];
  if (typeof value !== 'number') return unseen(`${name} has no reading "${limit.reading}" on this clip.`);
  const verdict: Verdict = value > limit.fail ? 'fail' : value > limit.pass ? 'marginal' : 'pass';
  return {
    ...base,
    value,
    severity: severityOf(value, limit.pass, limit.fail, 1),
    verdict,
    sharePct: 100,
    regions: reading.regions,
    because: sentence(name, value, limit, verdict),
  };
};

/** Said where a spec does not ask for what a clip cannot show. */
const UNSEEN = 'This delivery does not ask for what cannot show.';

const sentence = (name: string, value: number, { unit, pass, fail }: Limit, verdict: Verdict): string => {
  const amount = (v: number): string => `${Number(v.toPrecision(3))}${unit ? ` ${unit}` : ''}`;
  switch (verdict) {
    case 'fail':
      return `${name} of ${amount(value)} is above the fail limit of ${amount(fail)}, over the whole clip.`;
    case 'marginal':
      return `${name} of ${amount(value)} lies between the pass limit of ${amount(pass)} and the fail limit of ${amount(fail)}.`;
    default:
      return `${name} of ${amount(value)} is within the pass limit of ${amount(pass)}.`;
  }
};
