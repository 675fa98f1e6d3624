import {
  findingName,
  isOfReading,
  type Finding,
  type HarmValues,
  type ReadingChange,
  type Trial,
  type TrialRun,
} from '#document';
import { rounded } from '../maths/round.js';

/**
 * So much of a harm weighs as much as the whole gain: detail lost (points), picture among what was taken (%), smear and
 * ghosts (%), bending (px), halo (% of the step), uneven grain (from 1), picture lost (%), light or colour changed (%).
 * A viewer notices about a quarter of it. docs/trials.md gives the reasons.
 */
const OUTWEIGHS = {
  detailLostPct: 60,
  takenStructurePct: 120,
  smearPct: 40,
  ghostPct: 40,
  bendPx: 2,
  haloPct: 25,
  unevenGrain: 1.6,
  cropPct: 40,
  levelShiftPct: 4,
  colourShiftPct: 4,
} as const;
/** What a reading that got worse takes, unless it is still no matter to a viewer. */
const WORSE = 0.15;
/** Between settings that are as good as each other the quicker one is taken: totals nearer than this are alike. */
const ALIKE = 0.02;
/** What takes no more than so many times as long is as quick: a machine is not always as busy. */
const AS_QUICK = 1.25;
/** What takes less than this, seconds a frame, is made as fast as it is played. */
const AT_ONCE = 0.04;

/** What a trial compares its settings by: the gain of what is wanted less what it harms. */
export interface Weighed {
  readonly gain: number;
  readonly harm: number;
  /** Gain less harm; what is at or below nothing is not worth it. */
  readonly total: number;
}

/**
 * Weighs a run.
 * @param target what each reading has to come to: what lies below counts no more
 */
export const weigh = (
  run: Pick<TrialRun, 'gain' | 'harm' | 'worse'>,
  target: (reading: ReadingChange) => number,
): Weighed => {
  const gains = run.gain.map((reading) => gained(reading, target(reading)));
  const gain = gains.length > 0 ? Math.min(...gains) : 0;
  const harm = harmWeight(run.harm) + WORSE * run.worse.filter((w) => w.to > target(w)).length;
  return { gain, harm, total: gain - harm };
};

/** Runs with those figures of harm alone that every one of them has: one that could not be seen must not look like none. */
export const comparable = <Run extends Pick<TrialRun, 'harm'>>(runs: readonly Run[]): Run[] =>
  runs.map((run) => ({
    ...run,
    harm: Object.fromEntries(
      Object.entries(run.harm).map(([name, value]) => [
        name,
        runs.every((r) => r.harm[name as keyof HarmValues] !== null) ? value : null,
      ]),
    ) as HarmValues,
  }));

/** Share of the way to the target, 0–1; below nothing where it got worse. */
const gained = ({ from, to }: ReadingChange, target: number): number => {
  const way = from - Math.min(target, from * 0.999);
  return way > 0 ? Math.max(-1, Math.min(1, (from - to) / way)) : 0;
};

const harmWeight = (harm: HarmValues): number => {
  const over = (value: number | null, name: keyof typeof OUTWEIGHS): number =>
    value === null ? 0 : Math.max(0, value) / OUTWEIGHS[name];
  return (
    over(harm.detailKeptPct === null ? null : 100 - harm.detailKeptPct, 'detailLostPct') +
    over(harm.takenStructurePct, 'takenStructurePct') +
    over(harm.smearPct, 'smearPct') +
    over(harm.ghostPct, 'ghostPct') +
    over(harm.bendPx, 'bendPx') +
    over(harm.haloPct, 'haloPct') +
    over(harm.grainEvenness === null ? null : 1 - harm.grainEvenness, 'unevenGrain') +
    over(harm.cropPct, 'cropPct') +
    over(harm.levelShiftPct, 'levelShiftPct') +
    over(Math.max(harm.cbShiftPct ?? 0, harm.crShiftPct ?? 0), 'colourShiftPct')
  );
};

/** What a repair is to come to, as a share of the pass limit: what lies below is no more gain to a viewer. */
const TARGET_SHARE = 0.5;

/** What each reading has to come to, by the limits that it is judged by. */
export const targetsFrom =
  (findings: readonly Pick<Finding, 'defect' | 'reading' | 'pass'>[]) =>
  (change: ReadingChange): number =>
    TARGET_SHARE * (findings.find(isOfReading(change))?.pass ?? 0);

/**
 * The setting whose gain exceeds its harm by most; of those alike one of the quickest. Where nothing that a run is about could be
 * told on its frames, none is chosen, and none is held against the treatment.
 * @param untold readings of the clip that those frames do not tell
 */
export const choose = (
  runs: readonly TrialRun[],
  target: (reading: ReadingChange) => number,
  untold: readonly Of[] = [],
): Trial['choice'] => {
  if (runs.length === 0) return { run: null, because: 'Nothing was tried.' };
  const unsaid = `These frames do not tell ${untold.map(named).join(', ')}`;
  if (runs.every(({ gain }) => gain.length === 0))
    return {
      run: null,
      because:
        untold.length > 0
          ? `${unsaid}: no setting can be judged by them. Try other frames, or more of them.`
          : 'No reading that is judged tells what it does: look at the frames, and choose by eye.',
    };
  const { run, because } = chosenOf(runs, target);
  return { run, because: untold.length > 0 ? `${because} ${unsaid}.` : because };
};

const chosenOf = (runs: readonly TrialRun[], target: (reading: ReadingChange) => number): Trial['choice'] => {
  const weighed = comparable(runs).map((run) => weigh(run, target));
  const most = Math.max(...weighed.map((w) => w.total));
  if (most <= 0) {
    const best = weighed.findIndex((w) => w.total === most);
    return {
      run: null,
      because: `No setting is worth it: the best of them ${gainOf(runs[best])}, and ${harmOfRun(runs[best])}.`,
    };
  }
  const alike = weighed
    .map(({ total }, i) => ({ i, total, seconds: Math.max(AT_ONCE, runs[i].secondsPerFrame) }))
    .filter(({ total }) => total >= most - ALIKE);
  const quickest = Math.min(...alike.map(({ seconds }) => seconds));
  const run = alike
    .filter(({ seconds }) => seconds <= quickest * AS_QUICK)
    .reduce((a, b) => (b.total > a.total ? b : a)).i;
  return { run, because: `It ${gainOf(runs[run])}, and ${harmOfRun(runs[run])}.` };
};

const gainOf = ({ gain }: TrialRun): string =>
  gain.length === 0
    ? 'changes no reading that is judged'
    : gain
        .map(({ unit, from, to, ...of }) =>
          `brings ${named(of)} from ${shown(from)} to ${shown(to)} ${unit}`.trim(),
        )
        .join(', ');

const harmOfRun = ({ harm, worse }: TrialRun): string => {
  const said = [
    harm.detailKeptPct === null ? null : `keeps ${Math.round(harm.detailKeptPct)} % of the fine detail`,
    harm.smearPct !== null && harm.smearPct >= 5
      ? `smears ${Math.round(harm.smearPct)} % of it where things move`
      : null,
    harm.ghostPct !== null && harm.ghostPct >= 4
      ? `lets ${Math.round(harm.ghostPct)} % of another frame shine through`
      : null,
    harm.haloPct !== null && harm.haloPct >= 3 ? `draws halos of ${Math.round(harm.haloPct)} %` : null,
    harm.bendPx !== null && harm.bendPx >= 0.3 ? `bends lines by ${shown(harm.bendPx)} px` : null,
    harm.cropPct ? `costs ${shown(harm.cropPct)} % of the picture` : null,
    ...worse.map((w) => `makes ${named(w)} worse, ${shown(w.from)} to ${shown(w.to)} ${w.unit}`.trim()),
  ].filter((text) => text !== null);
  return said.length > 0 ? said.join(', ') : 'harms nothing that could be measured';
};

type Of = Pick<ReadingChange, 'defect' | 'reading'>;

/** A reading within a sentence. */
const named = (of: Of): string => {
  const name = findingName(of);
  return name.charAt(0).toLowerCase() + name.slice(1);
};

const shown = (value: number): string => String(rounded(value, Math.abs(value) < 10 ? 2 : 1));
