import {
  amount,
  findingName,
  type DeliverySpec,
  type Finding,
  type Interval,
  type Limit,
  type Measurement,
  type JudgedReading,
  type Verdict,
} from '#document';
import { conformFindings } from './conform.js';
import { judgedReading } from './judged-reading.js';
import { severityOf } from './severity.js';

/** Sets a measurement against a delivery spec: one finding for each limit, worst first. */
export const findingsOf = (measurement: Measurement, spec: DeliverySpec): Finding[] =>
  [
    ...spec.limits.map((limit) =>
      judgeReading(judgedReading(measurement, limit.defect, limit.reading), limit),
    ),
    ...conformFindings(measurement, spec.requires),
  ].sort((a, b) => RANK[b.verdict] - RANK[a.verdict] || b.severity - a.severity);

const RANK: Record<Verdict, number> = { fail: 3, incomplete: 2, marginal: 1, pass: 0 };

/** The clip's verdict: fail before incomplete before marginal; what was asked for and not measured is never a pass. */
export const verdictOf = (findings: readonly Pick<Finding, 'verdict'>[]): Verdict =>
  findings.reduce<Verdict>((worst, f) => (RANK[f.verdict] > RANK[worst] ? f.verdict : worst), 'pass');

/** What the limits of a spec are set against, and how the facts stand: enough to judge again under moved limits. */
export const readingsUnder = (
  measurement: Measurement,
  spec: DeliverySpec,
): { facts: Verdict; readings: Record<string, JudgedReading> } => ({
  facts: verdictOf(conformFindings(measurement, spec.requires)),
  readings: Object.fromEntries(
    spec.limits.map(({ defect, reading }) => [
      `${defect}.${reading}`,
      { ...judgedReading(measurement, defect, reading), regions: [] },
    ]),
  ),
});

/** The verdict of one reading under one limit, without the words: thousands of clips can be asked while a limit is dragged. */
export const verdictUnder = (seen: JudgedReading, limit: Limit): Verdict => {
  const { value, visibility, frames } = seen;
  if (value === null) return limit.passesUnseen ? 'pass' : 'incomplete';
  const strong = strengthOf(value, limit);
  const counts = visibility.time * frames >= limit.leastFrames && 100 * visibility.area >= limit.leastAreaPct;
  return counts ? strong : 'pass';
};

/** What a value alone makes of a limit. */
const strengthOf = (value: number, { pass, fail, marginalAtMost }: Limit): Verdict =>
  value > fail && !marginalAtMost ? 'fail' : value > pass ? 'marginal' : 'pass';

/** Sets one reading against one limit: what moves when a limit is moved, without a clip being looked at. */
export const judgeReading = (seen: JudgedReading, limit: Limit): Finding => {
  const { value, visibility, missing, startFrame, endFrame } = seen;
  const base = {
    defect: limit.defect,
    unit: limit.unit,
    reading: limit.reading,
    pass: limit.pass,
    fail: limit.fail,
    weight: limit.weight,
    startFrame,
    endFrame,
  };
  const name = findingName(limit);
  if (value === null) {
    const why = missing
      ? `${name} could not be measured: ${missing}`
      : `${name} could not be told on this clip.`;
    return {
      ...base,
      value: null,
      severity: 0,
      verdict: verdictUnder(seen, limit),
      interval: null,
      could: null,
      sharePct: 0,
      areaPct: 0,
      regions: [],
      because: limit.passesUnseen ? `${why} ${UNSEEN}` : why,
    };
  }
  const strong = strengthOf(value, limit);
  const verdict = verdictUnder(seen, limit);
  const could = couldBe(seen, limit, verdict);
  const slight = verdict === strong ? null : whyNotCounted(seen, limit);
  return {
    ...base,
    value,
    severity: severityOf(value, limit.pass, limit.fail, visibility),
    verdict,
    interval: seen.interval,
    could,
    sharePct: round(100 * visibility.time),
    areaPct: round(100 * visibility.area),
    regions: seen.regions,
    because: slight
      ? `${sentence(name, value, limit, strong)} ${slight}`
      : [
          sentence(name, value, limit, verdict),
          ...(could && seen.interval ? [doubt(seen.interval, limit, could)] : []),
          ...(verdict === 'pass' ? [] : [noticed(seen, limit)]),
        ].join(' '),
  };
};

/** What the verdict would be at the end of the interval that lies beyond a limit; of two ends the nearer limit's. */
const couldBe = (seen: JudgedReading, limit: Limit, verdict: Verdict): Verdict | null => {
  const { interval, value } = seen;
  if (!interval || value === null) return null;
  const at = (v: number): Verdict => verdictUnder({ ...seen, value: v }, limit);
  const others = [interval.low, interval.high].map(at).filter((v) => v !== verdict);
  if (others.length < 2) return others[0] ?? null;
  return value - limit.pass < limit.fail - value ? others[0] : others[1];
};

const doubt = ({ low, high }: Interval, { unit }: Limit, could: Verdict): string =>
  `It lies between ${amount(low, '')} and ${amount(high, unit)} in nine of ten cases: it could ${could === 'marginal' ? 'be marginal' : could}.`;

/** Said where a spec does not ask for what a clip cannot show. */
const UNSEEN = 'This delivery does not ask for what cannot show.';

/** Why a reading beyond its limits does not count: it is too short or too small for this delivery. */
const whyNotCounted = (
  { visibility, frames }: JudgedReading,
  { leastFrames, leastAreaPct }: Limit,
): string | null => {
  if (visibility.time * frames < leastFrames)
    return `It lasts about ${Math.round(visibility.time * frames)} frames; this delivery counts ${leastFrames} and more.`;
  if (100 * visibility.area < leastAreaPct)
    return `It covers ${round(100 * visibility.area)} % of the picture; this delivery counts ${leastAreaPct} % and more.`;
  return null;
};

/** What a viewer gets to see of it, as it went into the severity. */
const noticed = (
  { visibility: { time, area, place, contrast }, inInterest, startFrame, endFrame }: JudgedReading,
  { reading }: Limit,
): string => {
  const parts = [
    // A share of frames is itself a share of time.
    reading.endsWith('FramesPct')
      ? `It lies between frames ${startFrame} and ${endFrame}`
      : time > 0.9
        ? 'It shows the whole time'
        : `It shows ${round(100 * time)} % of the time`,
    area > 0.9 ? 'over the whole picture' : `over ${round(100 * area)} % of the picture`,
    ...(inInterest === null
      ? place < 0.4
        ? ['near the edge']
        : []
      : [inInterest ? 'in the region of interest' : 'outside the region of interest']),
    ...(contrast < 0.5 ? ['hardly standing out from its background'] : []),
  ];
  return `${parts.join(', ')}.`;
};

const round = (v: number): number => (v < 10 ? Math.round(10 * v) / 10 : Math.round(v));

const sentence = (
  name: string,
  value: number,
  { unit, pass, fail, marginalAtMost }: Limit,
  verdict: Verdict,
): string => {
  const told = (v: number): string => amount(v, unit);
  switch (verdict) {
    case 'fail':
      return `${name} of ${told(value)} is above the fail limit of ${told(fail)}.`;
    case 'marginal':
      if (marginalAtMost)
        return `${name} of ${told(value)} is above the pass limit of ${told(pass)}; this delivery leaves it to a person.`;
      return `${name} of ${told(value)} lies between the pass limit of ${told(pass)} and the fail limit of ${told(fail)}.`;
    default:
      return `${name} of ${told(value)} is within the pass limit of ${told(pass)}.`;
  }
};
