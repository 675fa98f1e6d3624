import {
  HARM_NAMES,
  NEIGHBOUR_NAMES,
  NEIGHBOUR_UNITS,
  type ClipReadings,
  type DeliverySpec,
  type Limit,
  type NeighbourName,
  type Verdict,
} from '@bevrin/contract';
import { verdictOf, verdictUnder } from '@bevrin/core/scoring';

export const keyOf = ({ defect, reading }: Pick<Limit, 'defect' | 'reading'>): string =>
  `${defect}.${reading}`;

/** The verdict of each clip under a spec, from its stored readings. About a microsecond a clip. */
export const verdictsUnder = (clips: readonly ClipReadings[], spec: DeliverySpec): Verdict[] => {
  const limits = spec.limits.map((limit) => ({ limit, key: keyOf(limit) }));
  return clips.map(({ facts, readings }) => {
    const verdicts: { verdict: Verdict }[] = [{ verdict: facts }];
    for (const { limit, key } of limits)
      if (readings[key]) verdicts.push({ verdict: verdictUnder(readings[key], limit) });
    return verdictOf(verdicts);
  });
};

export interface Change {
  readonly clip: ClipReadings;
  readonly from: Verdict;
  readonly to: Verdict;
}

/** The clips whose verdict a changed spec changes. */
export const changesBetween = (
  clips: readonly ClipReadings[],
  before: DeliverySpec,
  after: DeliverySpec,
): Change[] => {
  const [from, to] = [verdictsUnder(clips, before), verdictsUnder(clips, after)];
  return clips.flatMap((clip, i) => (from[i] === to[i] ? [] : [{ clip, from: from[i], to: to[i] }]));
};

export const countsOf = (verdicts: readonly Verdict[]): Record<Verdict, number> => {
  const counts = { pass: 0, marginal: 0, fail: 0, incomplete: 0 };
  for (const v of verdicts) counts[v]++;
  return counts;
};

/** Moves one limit and keeps pass below fail: the other one gives way. */
export const withLimit = (
  spec: DeliverySpec,
  key: string,
  which: 'pass' | 'fail',
  value: number,
): DeliverySpec => ({
  ...spec,
  limits: spec.limits.map((limit) => {
    if (keyOf(limit) !== key) return limit;
    const v = Math.max(0, Number(value.toPrecision(3)));
    if (which === 'pass') return { ...limit, pass: v, fail: Math.max(limit.fail, apart(v)) };
    const fail = Math.max(v, LEAST);
    return { ...limit, fail, pass: Math.min(limit.pass, Number((fail / APART).toPrecision(3))) };
  }),
});

/** The smallest fail limit, and how far above pass it stays at least. */
const LEAST = 0.001;
const APART = 1.02;
const apart = (pass: number): number => Math.max(LEAST, Number((pass * APART).toPrecision(4)));

/** What two versions set differently, in words. */
export const differences = (a: DeliverySpec, b: DeliverySpec, nameOf: (limit: Limit) => string): string[] => {
  const said: string[] = [];
  if (a.name !== b.name) said.push(`name: ${a.name} → ${b.name}`);
  for (const limit of a.limits) {
    const other = b.limits.find((l) => keyOf(l) === keyOf(limit));
    if (!other) {
      said.push(`${nameOf(limit)}: limit taken out`);
      continue;
    }
    for (const key of Object.keys(WORDS) as (keyof typeof WORDS)[])
      if (limit[key] !== other[key])
        said.push(`${nameOf(limit)}, ${WORDS[key]}: ${limit[key]} → ${other[key]}`);
  }
  for (const limit of b.limits)
    if (!a.limits.some((l) => keyOf(l) === keyOf(limit))) said.push(`${nameOf(limit)}: limit added`);
  const facts = new Set([...Object.keys(a.requires), ...Object.keys(b.requires)]) as Set<
    keyof DeliverySpec['requires']
  >;
  for (const fact of facts) {
    const [x, y] = [a.requires[fact], b.requires[fact]].map((v) =>
      v === undefined ? 'not asked for' : String(v),
    );
    if (x !== y) said.push(`${FACT_NAMES[fact]}: ${x} → ${y}`);
  }
  for (const [name, words, unit] of HARM_NAMES)
    said.push(...pairChanged(words, unit, named(a.harm, name), named(b.harm, name)));
  for (const name of NEIGHBOUR_NAMES)
    said.push(
      ...pairChanged(
        NEIGHBOUR_WORDS[name],
        NEIGHBOUR_UNITS[name],
        named(a.beside, name),
        named(b.beside, name),
      ),
    );
  return said;
};

const named = <L extends { readonly name: string }>(limits: readonly L[], name: L['name']): L | undefined =>
  limits.find((l) => l.name === name);

type Pair = Pick<Limit, 'pass' | 'fail'> | undefined;

/** How a pair of values was changed, in words; nothing where it was not. */
const pairChanged = (words: string, unit: string, before: Pair, after: Pair): string[] => {
  const [x, y] = [before, after].map((limit) =>
    limit ? `${limit.pass} and ${limit.fail} ${unit}`.trim() : 'anything',
  );
  return x === y ? [] : [`${words}: ${x} → ${y}`];
};

/** How far a clip differs from the others of its roll, in words. */
export const NEIGHBOUR_WORDS: Record<NeighbourName, string> = {
  softer: 'Softer than the others',
  noisier: 'Noisier than the others',
  cleaner: 'Cleaner than the others',
  level: 'Brighter or darker',
};

const WORDS = {
  pass: 'passes to',
  fail: 'fails above',
  weight: 'weight',
  leastFrames: 'counts from frames',
  leastAreaPct: 'counts from % of picture',
  passesUnseen: 'passes unseen',
  marginalAtMost: 'marginal at most',
} as const;

export const FACT_NAMES: Record<keyof DeliverySpec['requires'], string> = {
  width: 'width, px',
  height: 'height, px',
  frameRates: 'frame rates',
  constantFrameRate: 'even frame rate',
  scan: 'scan',
  leastBitDepth: 'bits, at least',
  range: 'range',
  leastScale: 'detail over size, at least',
  mostRepeatedPct: 'repeated frames, % at most',
  mostLost: 'lost frames at most',
  mostBlocky: 'compression blocks at most',
};
