import {
  isOfReading,
  NEIGHBOUR_UNITS,
  type BesideFinding,
  type DeliverySpec,
  type NeighbourName,
  type Summary,
} from '#document';

/** A clip of a batch as it is set beside the others. */
export interface Neighbour {
  readonly id: string;
  readonly name: string;
  readonly summary: Pick<Summary, 'spec' | 'findings' | 'levelPct'> | null;
}

/** What clips of a roll are compared by. Differences below `unseen` are seen by nobody. */
export const COMPARED = [
  { figure: 'softness', title: 'Softness', unit: 'px', unseen: 0.3 },
  { figure: 'noise', title: 'Noise, luma', unit: '%', unseen: 0.2 },
  { figure: 'level', title: 'Mean level', unit: '%', unseen: 0 },
] as const;
export type Compared = (typeof COMPARED)[number]['figure'];

/** What is compared for each way in which a clip may differ. */
export const NEIGHBOUR_FIGURES: Record<NeighbourName, Compared> = {
  softer: 'softness',
  noisier: 'noise',
  cleaner: 'noise',
  level: 'level',
};

/** Clips that belong together by their names, and what was measured of them, ascending. */
export interface Roll {
  readonly name: string;
  readonly values: Record<Compared, readonly { readonly id: string; readonly value: number }[]>;
}

/** Of fewer others a median says nothing. */
const LEAST_OTHERS = 3;

/** The roll or scene of a clip: the first word of its name, as cameras and houses give it. */
const rollOf = (name: string): string => /^[\p{L}\p{N}]+/u.exec(name)?.[0].toUpperCase() ?? '';

const READINGS = { softness: 'blurSigmaPx', noise: 'lumaPct' } as const;

const valueOf = ({ summary }: Neighbour, figure: Compared): number | null =>
  figure === 'level'
    ? (summary?.levelPct ?? null)
    : (summary?.findings.find(isOfReading({ defect: figure, reading: READINGS[figure] }))?.value ?? null);

/** The rolls of a batch of which enough was measured to set clips beside each other, in the order of their names. */
export const rollsOf = (clips: readonly Neighbour[]): Roll[] => {
  const rolls = new Map<string, Neighbour[]>();
  for (const clip of clips) {
    const own = rolls.get(rollOf(clip.name)) ?? [];
    own.push(clip);
    rolls.set(rollOf(clip.name), own);
  }
  rolls.delete('');
  return [...rolls]
    .map(([name, own]) => {
      const known = (figure: Compared): Roll['values'][Compared] =>
        own
          .flatMap((clip) => {
            const value = valueOf(clip, figure);
            return value === null ? [] : [{ id: clip.id, value }];
          })
          .sort((a, b) => a.value - b.value);
      return {
        name,
        values: { softness: known('softness'), noise: known('noise'), level: known('level') },
      };
    })
    .filter(({ values }) => Object.values(values).some((v) => v.length > LEAST_OTHERS))
    .sort((a, b) => a.name.localeCompare(b.name));
};

/** The middle of ascending values; of those without the one at a place, where one is named. */
export const medianWithout = (sorted: readonly { readonly value: number }[], at = Infinity): number => {
  const count = sorted.length - Number(at < sorted.length);
  const left = (i: number): number => sorted[i < at ? i : i + 1].value;
  return (left((count - 1) >> 1) + left(count >> 1)) / 2;
};

/**
 * Clips that differ from the others of their roll by more than their delivery lets pass, by their ids.
 * @param specs the deliveries that they are judged under, and others
 */
export const besideOf = (
  clips: readonly Neighbour[],
  specs: readonly Pick<DeliverySpec, 'id' | 'beside'>[],
): Map<string, BesideFinding[]> => {
  const limits = new Map(specs.map((s) => [s.id, s.beside]));
  const specOf = new Map(clips.map((c) => [c.id, c.summary?.spec.id ?? '']));
  const found = new Map<string, BesideFinding[]>();
  for (const { name: roll, values } of rollsOf(clips))
    for (const { figure, unit, unseen } of COMPARED) {
      const sorted = values[figure];
      if (sorted.length <= LEAST_OTHERS) continue;
      for (const [at, { id, value }] of sorted.entries()) {
        const median = medianWithout(sorted, at);
        for (const limit of limits.get(specOf.get(id) ?? '') ?? []) {
          const apart = apartBy(limit.name, figure, Math.max(unseen, value), Math.max(unseen, median));
          if (apart === null || Math.abs(apart) <= limit.pass) continue;
          const told = { own: value, others: median, roll, count: sorted.length - 1 };
          const finding: BesideFinding = {
            ...limit,
            ...told,
            value: Number(apart.toPrecision(3)),
            unit: NEIGHBOUR_UNITS[limit.name],
            readingUnit: unit,
            verdict: Math.abs(apart) > limit.fail ? 'fail' : 'marginal',
            because: because(limit.name, apart, { ...told, unit }),
            match: matching(limit.name, told),
          };
          found.set(id, [...(found.get(id) ?? []), finding]);
        }
      }
    }
  return found;
};

/** By how much a clip differs the way a limit asks about; `null` where the limit is about something else. */
const apartBy = (name: NeighbourName, figure: Compared, own: number, median: number): number | null => {
  if (NEIGHBOUR_FIGURES[name] !== figure) return null;
  if (name === 'level') return own - median;
  return name === 'cleaner' ? median / own : own / median;
};

/** A difference in words: 2.4 times softer. */
export const besideWords = ({ name, value }: Pick<BesideFinding, 'name' | 'value'>): string =>
  name === 'level'
    ? `${Math.abs(value).toFixed(0)} % ${value > 0 ? 'brighter' : 'darker'}`
    : `${value.toFixed(1)} times ${name}`;

const because = (
  name: NeighbourName,
  value: number,
  {
    own,
    others,
    roll,
    count,
    unit,
  }: Pick<BesideFinding, 'own' | 'others' | 'roll' | 'count'> & { unit: string },
): string =>
  `It is ${besideWords({ name, value })} than the other ${count} of ${roll}: ${figure(own)} ${unit}, where half of them have ${figure(others)} ${unit} or less.`;

const figure = (value: number): string => String(Number(value.toPrecision(2)));

/** What brings a clip to the others of its roll, as a plan may say it. */
const matching = (
  name: NeighbourName,
  { own, others, roll, count }: Pick<BesideFinding, 'own' | 'others' | 'roll' | 'count'>,
): BesideFinding['match'] => {
  const those = `the other ${count} of ${roll}`;
  switch (name) {
    case 'cleaner': {
      // Noise and grain know nothing of each other: their powers add up.
      const lumaPct = Number(Math.sqrt(Math.max(0, others ** 2 - own ** 2)).toPrecision(2));
      return {
        words: `Match grain to ${those}: bring ${lumaPct} % of it in, so that ${figure(own)} % come to ${figure(others)} %.`,
        treatment: 'grain',
        settings: { sharePct: 100, lumaPct, byLevel: [] },
      };
    }
    case 'noisier':
      return {
        words: `Match its noise to ${those}: bring it down to ${figure(others)} %, not further.`,
        treatment: 'reduceNoise',
        settings: {},
      };
    case 'softer':
      return {
        words: `Match its edges to ${those}: steepen them as far as no halo shows, or soften what stands beside it; ${figure(others)} px is not reached from ${figure(own)} px. Ask for it from the original.`,
        treatment: 'sharpen',
        settings: {},
      };
    case 'level':
      return {
        words: `Match its level to ${those} in the grade: from ${figure(own)} to ${figure(others)} % on the mean.`,
        treatment: null,
        settings: {},
      };
  }
};
