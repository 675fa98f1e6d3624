import {
  findingName,
  HARM_NAMES,
  KEPT_FIGURES,
  rationalToNumber,
  USUAL_HARM_LIMITS,
  type Alignment,
  type DeliverySpec,
  type Finding,
  type HarmLimit,
  type JudgedHarm,
  type Measurement,
  type NewFinding,
  type Recheck,
  type RecheckedReading,
  type RecheckVerdict,
  type Step,
} from '#document';
import { rounded } from '../maths/round.js';
import { findingsOf } from '../scoring/judge.js';
import { worseThan } from '../trials/trials.js';
import type { CombinedHarm, HarmedWindow } from './combine.js';

/** Something that happened to the frames on the way: in the repaired file, counted from its first. */
export interface TimeFault {
  readonly kind: 'dropped' | 'repeated' | 'missing';
  /** The frame of the repaired file before which frames are gone, or come again; `null` where it cannot be told. */
  readonly frame: number | null;
  readonly count: number;
}

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
  'readings' | 'harm' | 'notMeasurable' | 'harmJudged' | 'newFindings' | 'verdict' | 'because'
>;

/** Proves a repair: what it was to mend, what it harmed, and what is new. */
export const judgeRecheck = (evidence: Evidence): Proof => {
  const { original, repaired, spec, steps, combined } = evidence;
  const [before, after] = [findingsOf(original, spec), findingsOf(repaired, spec)];
  const readings = rowsOf(before, after, steps);
  const harmJudged = judgedHarm(combined, spec.harm ?? USUAL_HARM_LIMITS);
  const newFindings = [
    ...factsChanged(original, repaired),
    ...timesWrong(evidence.times),
    ...grownWorse(before, after, readings),
    ...softPlaces(evidence.windows, spec.harm ?? USUAL_HARM_LIMITS),
  ];
  const reasons = [
    ...readings.flatMap((row) => reasonOf(row, after)),
    ...harmJudged.flatMap(harmReason),
    ...newFindings.map(({ verdict, because }): Reason => ({ weighs: verdict, says: because })),
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
  };
};

interface Reason {
  readonly weighs: 'marginal' | 'fail';
  readonly says: string;
}

/** Every reading that the delivery judges, on both sides. */
const rowsOf = (
  before: readonly Finding[],
  after: readonly Finding[],
  steps: Evidence['steps'],
): RecheckedReading[] =>
  after.map((is) => {
    const was = before.find((f) => f.defect === is.defect && f.reading === is.reading);
    const expected = steps.findLast((s) => s.defect === is.defect && s.expect.reading === is.reading);
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

const shown = (value: number): string => String(rounded(value, Math.abs(value) < 10 ? 2 : 1));
const withUnit = (value: number | null, unit: string): string =>
  value === null ? 'not measurable' : `${shown(value)} ${unit}`.trim();

/** What a reading says against the repair; nothing where it is as it was and nobody was to mend it. */
const reasonOf = (row: RecheckedReading, after: readonly Finding[]): Reason[] => {
  const { verdictAfter, verdictBefore, expected, before, after: value, unit, pass } = row;
  const name = findingName(row);
  const at = after.find((f) => f.defect === row.defect && f.reading === row.reading);
  const where = at && value !== null ? placeOf(at) : '';
  if (verdictAfter === 'fail') {
    if (verdictBefore !== 'fail')
      return row.defect === 'conform' ? [{ weighs: 'fail', says: at?.because ?? name }] : [];
    if (expected === null)
      return row.defect === 'conform'
        ? []
        : [
            {
              weighs: 'marginal',
              says: `${name} fails as it did, ${withUnit(value, unit)}; no step of the plan was to mend it.`,
            },
          ];
    return [
      {
        weighs: 'fail',
        says: `${name} is still ${withUnit(value, unit)}, ${withUnit(before, unit)} before: the limit is ${withUnit(pass, unit)}, the plan expected ${withUnit(expected, unit)}.${where}`,
      },
    ];
  }
  if (verdictAfter === 'marginal' && expected !== null)
    return [
      {
        weighs: 'marginal',
        says: `${name} came to ${withUnit(value, unit)}, ${withUnit(before, unit)} before: above the limit of ${withUnit(pass, unit)}, short of failing.${where}`,
      },
    ];
  if (value === null && before !== null && verdictBefore === 'fail')
    return [
      {
        weighs: 'marginal',
        says: `${name} cannot be measured any more: ${at?.because ?? 'nothing shows it'}`,
      },
    ];
  return [];
};

const placeOf = ({ startFrame, endFrame, regions }: Finding): string => {
  const frames = regions.length > 0 ? regions[0] : { startFrame, endFrame };
  return ` Look at frame ${Math.round((frames.startFrame + frames.endFrame) / 2)}.`;
};

/** Findings that are worse than they were, beyond what both could be by their own uncertainty. */
const grownWorse = (
  before: readonly Finding[],
  after: readonly Finding[],
  readings: readonly RecheckedReading[],
): NewFinding[] => {
  const worse = worseThan(before, after);
  return readings.flatMap((row): NewFinding[] => {
    const { verdictAfter, verdictBefore, unit } = row;
    if (row.defect === 'conform' || row.after === null) return [];
    if (verdictAfter !== 'fail' && verdictAfter !== 'marginal') return [];
    const isWorse = worse.some((w) => w.defect === row.defect && w.reading === row.reading);
    const wasBetter = RANK[verdictBefore] < RANK[verdictAfter];
    if (!isWorse || !wasBetter) return [];
    const finding = after.find((f) => f.defect === row.defect && f.reading === row.reading)!;
    return [
      {
        what: `${row.defect}.${row.reading}`,
        verdict: verdictAfter,
        because: `${findingName(row)} is new: ${withUnit(row.after, unit)}, ${withUnit(row.before, unit)} before; the limit is ${withUnit(row.pass, unit)}.${placeOf(finding)}`,
        frame: Math.round((finding.startFrame + finding.endFrame) / 2),
      },
    ];
  });
};

const RANK = { pass: 0, incomplete: 0, marginal: 1, fail: 2 } as const;

const RATE = 1e-3;

/** Facts of the file that are not those of the original. */
const factsChanged = ({ clip: was }: Measurement, { clip: is }: Measurement): NewFinding[] => {
  const found: NewFinding[] = [];
  const tell = (what: string, verdict: NewFinding['verdict'], because: string): void =>
    void found.push({ what, verdict, because, frame: null });
  const rates = [was.frameRate, is.frameRate].map(rationalToNumber);
  if (Math.abs(rates[0] - rates[1]) > RATE * rates[0])
    tell(
      'frameRate',
      'fail',
      `It runs at ${shown(rates[1])} frames a second, the original at ${shown(rates[0])}.`,
    );
  if (is.range !== was.range)
    tell(
      'range',
      'fail',
      `Its tag says ${is.range} range, the original's ${was.range} range: blacks and whites will be shown wrong.`,
    );
  for (const [what, name] of [
    ['matrix', 'colour matrix'],
    ['transfer', 'transfer'],
  ] as const)
    if (is[what] !== was[what])
      tell(
        what,
        'fail',
        `Its tag says ${name} ${is[what]}, the original's ${was[what]}: colours will be shown wrong.`,
      );
  if (is.bitDepth < was.bitDepth)
    tell('bitDepth', 'marginal', `It has ${is.bitDepth} bits a sample, the original ${was.bitDepth}.`);
  if (is.width !== was.width || is.height !== was.height)
    tell('size', 'marginal', `It is ${is.width}×${is.height}, the original ${was.width}×${was.height}.`);
  if ((is.scanSeen ?? is.scan) !== (was.scanSeen ?? was.scan))
    tell(
      'scan',
      'fail',
      `Its frames are ${is.scanSeen ?? is.scan}, the original's ${was.scanSeen ?? was.scan}.`,
    );
  if (is.variableFrameRate && !was.variableFrameRate)
    tell(
      'variableFrameRate',
      'fail',
      'The time between its frames is uneven, as it was not in the original.',
    );
  return found;
};

const frames = (count: number): string => (count === 1 ? 'a frame is' : `${count} frames are`);

const timesWrong = (times: readonly TimeFault[]): NewFinding[] =>
  times.map(({ kind, frame, count }): NewFinding => {
    const at = frame === null ? 'where cannot be told' : `before frame ${frame}`;
    switch (kind) {
      case 'dropped':
        return {
          what: kind,
          verdict: 'fail',
          because: `${cap(frames(count))} missing, ${at}: movement jumps there.`,
          frame,
        };
      case 'repeated':
        return {
          what: kind,
          verdict: 'fail',
          because: `${cap(frames(count))} shown again, ${at}: movement halts there.`,
          frame,
        };
      case 'missing':
        return {
          what: kind,
          verdict: 'marginal',
          because: `It is a part: ${count === 1 ? `the ${frame === 0 ? 'first' : 'last'} frame` : `the ${frame === 0 ? 'first' : 'last'} ${count} frames`} of the original ${count === 1 ? 'is' : 'are'} not there.`,
          frame,
        };
    }
  });

const cap = (text: string): string => text.charAt(0).toUpperCase() + text.slice(1);

/** A place loses so many points more of its detail than the clip, and has enough tiles to tell. */
const SOFTER_BY = 15;
const LEAST_TILES = 12;

/** Places where much more detail is gone than elsewhere. */
const softPlaces = (windows: readonly HarmedWindow[], limits: readonly HarmLimit[]): NewFinding[] => {
  const limit = limits.find((l) => l.name === 'detailKeptPct');
  const told = windows.flatMap(({ frame, harm: { detailKeptPct: kept } }) =>
    kept.value !== null && kept.tiles >= LEAST_TILES ? [{ frame, kept: kept.value }] : [],
  );
  if (!limit || told.length < 3) return [];
  const usual = [...told].sort((a, b) => a.kept - b.kept)[told.length >> 1].kept;
  const soft = told.filter((t) => t.kept < usual - SOFTER_BY && t.kept < limit.pass);
  if (soft.length === 0) return [];
  const worst = soft.reduce((a, b) => (b.kept < a.kept ? b : a));
  return [
    {
      what: 'softPlace',
      verdict: worst.kept < limit.fail ? 'fail' : 'marginal',
      because: `It is soft about frame ${worst.frame}: ${Math.round(worst.kept)} % of the fine detail are left there, ${Math.round(usual)} % elsewhere.`,
      frame: worst.frame,
    },
  ];
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
const harmReason = ({ name, value, pass, verdict, at }: JudgedHarm): Reason[] => {
  if (value === null || (verdict !== 'marginal' && verdict !== 'fail')) return [];
  const where = at ? ` Look at frame ${at.frame}, at ${Math.round(at.x)}, ${Math.round(at.y)}.` : '';
  return [
    {
      weighs: verdict,
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
