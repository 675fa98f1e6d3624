import {
  findingName,
  isOfReading,
  isSameRate,
  rationalToNumber,
  type Finding,
  type HarmLimit,
  type Measurement,
  type NewFinding,
  type RecheckedReading,
} from '#document';
import { worseThan } from '../trials/trials.js';
import type { HarmedWindow } from './combine.js';
import { cap, frameNamed, frameOf, placeOf, shown, withUnit } from './words.js';

/** Something that happened to the frames on the way: in the repaired file, counted from its first. */
export interface TimeFault {
  readonly kind: 'dropped' | 'repeated' | 'missing';
  /** The frame of the repaired file before which frames are gone, or come again; `null` where it cannot be told. */
  readonly frame: number | null;
  readonly count: number;
}

/** Findings that are worse than they were, beyond what both could be by their own uncertainty. */
export const grownWorse = (
  before: readonly Finding[],
  after: readonly Finding[],
  readings: readonly RecheckedReading[],
  offset: number,
): NewFinding[] => {
  const worse = worseThan(before, after);
  return readings.flatMap((row): NewFinding[] => {
    const { verdictAfter, verdictBefore, unit } = row;
    if (row.defect === 'conform' || row.after === null) return [];
    if (verdictAfter !== 'fail' && verdictAfter !== 'marginal') return [];
    const isWorse = worse.some(isOfReading(row));
    const wasBetter = RANK[verdictBefore] < RANK[verdictAfter];
    if (!isWorse || !wasBetter) return [];
    const finding = after.find(isOfReading(row))!;
    return [
      {
        what: `${row.defect}.${row.reading}`,
        verdict: verdictAfter,
        because: `${findingName(row)} is new: ${withUnit(row.after, unit)}, ${withUnit(row.before, unit)} before; the limit is ${withUnit(row.pass, unit)}.${placeOf(finding, offset)}`,
        frame: frameOf(finding),
      },
    ];
  });
};

const RANK = { pass: 0, incomplete: 0, marginal: 1, fail: 2 } as const;

/** Facts of the file that are not those of the original. */
export const factsChanged = ({ clip: was }: Measurement, { clip: is }: Measurement): NewFinding[] => {
  const found: NewFinding[] = [];
  const tell = (what: string, verdict: NewFinding['verdict'], because: string): void =>
    void found.push({ what, verdict, because, frame: null });
  const rates = [was.frameRate, is.frameRate].map(rationalToNumber);
  if (!isSameRate(was.frameRate, is.frameRate))
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

/** What happened to the frames on the way. */
export const timesWrong = (times: readonly TimeFault[], offset: number): NewFinding[] =>
  times.map(({ kind, frame, count }): NewFinding => {
    const at = frame === null ? 'where cannot be told' : `before frame ${frame}`;
    const first = frame === null || offset === 0 ? '' : ` (in the original from frame ${frame + offset})`;
    switch (kind) {
      case 'dropped':
        return {
          what: kind,
          verdict: 'fail',
          because: `${cap(frames(count))} missing, ${at}${first}: movement jumps there.`,
          frame,
        };
      case 'repeated':
        return {
          what: kind,
          verdict: 'fail',
          because: `${cap(frames(count))} shown again, ${at}${first}: movement halts there.`,
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

/** A place loses so many points more of its detail than the clip, and has enough tiles to tell. */
const SOFTER_BY = 15;
const LEAST_TILES = 12;

/** Places where much more detail is gone than elsewhere. */
export const softPlaces = (
  windows: readonly HarmedWindow[],
  limits: readonly HarmLimit[],
  offset: number,
): NewFinding[] => {
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
      because: `It is soft about ${frameNamed(worst.frame, offset)}: ${Math.round(worst.kept)} % of the fine detail are left there, ${Math.round(usual)} % elsewhere.`,
      frame: worst.frame,
    },
  ];
};
