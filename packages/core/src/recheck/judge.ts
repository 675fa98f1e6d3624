import {
  findingName,
  HARM_NAMES,
  isExpected,
  isOfReading,
  KEPT_FIGURES,
  type Alignment,
  type DeliverySpec,
  type Finding,
  type HarmLimit,
  type JudgedHarm,
  type Measurement,
  type NewFinding,
  type Recheck,
  type RecheckedReading,
  type RecheckReason,
  type RecheckVerdict,
  type Step,
} from '#document';
import { findingsOf } from '../scoring/judge.js';
import { factsChanged, grownWorse, softPlaces, timesWrong, type TimeFault } from './anew.js';
import type { CombinedHarm, HarmedWindow } from './combine.js';
import { cap, frameNamed, framesOf, placeOf, shown, withUnit } from './words.js';

/** All that is known of a repaired file. */
export interface Evidence {
  readonly original: Measurement;
  readonly repaired: Measurement;
  readonly spec: DeliverySpec;
  /** The steps that were to be done. */
  readonly steps: readonly Pick<Step, 'treatment' | 'defect' | 'expect'>[];
  readonly alignment: Alignment;
  readonly times: readonly TimeFault[];
  readonly windows: readonly HarmedWindow[];
  readonly combined: CombinedHarm;
}

type Proof = Pick<
  Recheck,
  'readings' | 'harm' | 'notMeasurable' | 'harmJudged' | 'newFindings' | 'verdict' | 'because' | 'reasons'
>;

/** Proves a repair: what it was to mend, what it harmed, and what is new. */
export const judgeRecheck = (evidence: Evidence): Proof => {
  const { original, repaired, spec, steps, combined } = evidence;
  const { frameOffset } = evidence.alignment;
  const [before, after] = [findingsOf(original, spec), findingsOf(repaired, spec)];
  const readings = rowsOf(before, after, steps);
  const harmJudged = judgedHarm(combined, spec.harm);
  const newFindings = [
    ...factsChanged(original, repaired),
    ...timesWrong(evidence.times, frameOffset),
    ...grownWorse(before, after, readings, frameOffset),
    ...softPlaces(evidence.windows, spec.harm, frameOffset),
  ];
  const reasons = [
    ...readings.flatMap((row) => reasonOf(row, after, frameOffset)),
    ...harmJudged.flatMap((harm) => harmReason(harm, frameOffset)),
    ...newFindings.map(newReason),
  ];
  const verdict: RecheckVerdict = reasons.some((r) => r.weighs === 'fail')
    ? 'sendBack'
    : reasons.length > 0
      ? 'acceptedWithRemarks'
      : 'accepted';
  const ordered = [...reasons].sort((a, b) => Number(b.weighs === 'fail') - Number(a.weighs === 'fail'));
  return {
    readings,
    harm: combined.harm,
    notMeasurable: combined.notMeasurable,
    harmJudged,
    newFindings,
    verdict,
    because: ordered.length > 0 ? ordered.map((r) => r.says) : [wellDone(readings)],
    reasons: ordered,
  };
};

const newReason = ({ what, verdict, because, frame }: NewFinding): RecheckReason => ({
  about: `new ${what}`,
  weighs: verdict,
  says: because,
  frames: frame === null ? null : { startFrame: frame, endFrame: frame },
  at: null,
});

/** Every reading that the delivery judges, on both sides. */
const rowsOf = (
  before: readonly Finding[],
  after: readonly Finding[],
  steps: Evidence['steps'],
): RecheckedReading[] =>
  after.map((is) => {
    const was = before.find(isOfReading(is));
    const expected = steps.findLast((s) => isExpected(s, is));
    return {
      defect: is.defect,
      reading: is.reading,
      unit: is.unit,
      before: was?.value ?? null,
      after: is.value,
      expected: expected?.expect.to ?? null,
      pass: is.pass,
      fail: is.fail,
      verdictBefore: was?.verdict ?? 'incomplete',
      verdictAfter: is.verdict,
    };
  });

/** What a reading says against the repair; nothing where it is as it was and nobody was to mend it. */
const reasonOf = (row: RecheckedReading, after: readonly Finding[], offset: number): RecheckReason[] => {
  const { verdictAfter, verdictBefore, expected, before, after: value, unit, pass } = row;
  const name = findingName(row);
  const at = after.find(isOfReading(row));
  const where = at && value !== null ? placeOf(at, offset) : '';
  const reason = (weighs: RecheckReason['weighs'], says: string): RecheckReason => ({
    about: `${row.defect}.${row.reading}`,
    weighs,
    says,
    frames: at && value !== null ? framesOf(at) : null,
    at: null,
  });
  if (verdictAfter === 'fail') {
    if (verdictBefore !== 'fail')
      return row.defect === 'conform' ? [reason('fail', at?.because ?? name)] : [];
    if (expected === null)
      return row.defect === 'conform'
        ? []
        : [
            reason(
              'marginal',
              `${name} fails as it did, ${withUnit(value, unit)}; no step of the plan was to mend it.`,
            ),
          ];
    return [
      reason(
        'fail',
        `${name} is still ${withUnit(value, unit)}, ${withUnit(before, unit)} before: the limit is ${withUnit(pass, unit)}, the plan expected ${withUnit(expected, unit)}.${where}`,
      ),
    ];
  }
  if (verdictAfter === 'marginal' && expected !== null)
    return [
      reason(
        'marginal',
        `${name} came to ${withUnit(value, unit)}, ${withUnit(before, unit)} before: above the limit of ${withUnit(pass, unit)}, short of failing.${where}`,
      ),
    ];
  if (value === null && before !== null && verdictBefore === 'fail')
    return [reason('marginal', `${name} cannot be measured any more: ${at?.because ?? 'nothing shows it'}`)];
  return [];
};

const judgedHarm = ({ harm, worstAt }: CombinedHarm, limits: readonly HarmLimit[]): JudgedHarm[] =>
  limits.map(({ name, pass, fail }) => {
    const value = harm[name];
    const sign = KEPT_FIGURES.includes(name) ? -1 : 1;
    const verdict =
      value === null
        ? 'incomplete'
        : sign * value <= sign * pass
          ? 'pass'
          : sign * value <= sign * fail
            ? 'marginal'
            : 'fail';
    return { name, value, pass, fail, verdict, at: worstAt[name] ?? null };
  });

/** What a figure of harm says in a sentence, where it is beyond its limit. */
const harmReason = ({ name, value, pass, verdict, at }: JudgedHarm, offset: number): RecheckReason[] => {
  if (value === null || (verdict !== 'marginal' && verdict !== 'fail')) return [];
  const where = at
    ? ` Look at ${frameNamed(at.frame, offset)}, at ${Math.round(at.x)}, ${Math.round(at.y)}.`
    : '';
  return [
    {
      about: `harm ${name}`,
      weighs: verdict,
      frames: at && { startFrame: at.frame, endFrame: at.frame },
      at: at && { x: at.x, y: at.y },
      says: `${HARM_SENTENCES[name]?.(shown(value), shown(pass)) ?? `${words(name)}: ${shown(value)}, the limit is ${shown(pass)}.`}${where}`,
    },
  ];
};

const words = (name: JudgedHarm['name']): string => cap(HARM_NAMES.find(([n]) => n === name)?.[1] ?? name);

const HARM_SENTENCES: Partial<Record<JudgedHarm['name'], (value: string, pass: string) => string>> = {
  detailKeptPct: (v, p) => `Fine detail is gone: ${v} % are left, ${p} % must be.`,
  mediumDetailKeptPct: (v, p) => `Detail is gone: ${v} % are left, ${p} % must be.`,
  smearPct: (v, p) => `What moves is smeared: ${v} % of its detail, ${p} % may be.`,
  ghostPct: (v, p) => `Ghosts: another frame shines through by ${v} %, ${p} % may.`,
  bendPx: (v, p) => `Lines are bent, by ${v} px; ${p} px may be.`,
  haloPct: (v, p) => `Halos stand beside edges: ${v} % of the step, ${p} % may.`,
  grainEvenness: (v) => `The grain is not alike everywhere (${v} of 1): parts look like plastic.`,
  cropPct: (v, p) => `${v} % of the picture are gone, ${p} % may be.`,
  levelShiftPct: (v, p) => `The brightness changed by ${v} %, ${p} % may.`,
  cbShiftPct: (v, p) => `The colour changed: Cb by ${v} %, ${p} % may.`,
  crShiftPct: (v, p) => `The colour changed: Cr by ${v} %, ${p} % may.`,
};

const wellDone = (readings: readonly RecheckedReading[]): string => {
  const mended = readings.filter(
    (r) => r.verdictAfter === 'pass' && (r.verdictBefore === 'fail' || r.verdictBefore === 'marginal'),
  );
  const said = mended.map(
    (r) => `${findingName(r)} went from ${withUnit(r.before, r.unit)} to ${withUnit(r.after, r.unit)}`,
  );
  return said.length > 0
    ? `${said.join(', ')}; nothing else was harmed beyond its limit.`
    : 'It passes, and nothing was harmed beyond its limit.';
};
