import type { Step } from '#document';
import type { NoiseValues } from '../../measures/noise/descriptor.js';
import { comingTo, numberIn, round, type Proposal, type Task, type Treatment } from '../treatment.js';

/** Grain that is brought back, over what noise is brought to: the eye wants a little, and the sum must stay within the limit. */
const GRAIN_SHARE = 1 / 3;

/** More grain than this, %, is not brought back, however much a delivery allows. */
const MOST_GRAIN_PCT = 0.3;

/** What it is worth beside the noise that it follows: it makes the repair less seen, it mends nothing. */
const WORTH = 0.05;

/** Where more than this share of the noise is left, nothing looks like plastic: none is missed. */
const PLASTIC_BELOW = 0.2;

/** Shares are set in these steps, %. */
const STEP_PCT = 1;

/** Grain that is brought back where noise is brought to a target, both in % of range. */
export const grainFor = (target: number): number => Math.min(MOST_GRAIN_PCT, GRAIN_SHARE * target);

/** A little of the noise that was measured is laid over the end, where next to none of it was left. */
export const grain: Treatment = {
  treatment: 'grain',
  defect: 'noise',
  needs: 'reduceNoise',
  precedes: 'It comes last of all: everything before would smooth, steepen or enlarge it.',
  revise: (settings, task) => ({
    expect: comingTo(task, withGrain(task.value, settings)),
    cost: COST,
  }),
  propose: (task, { readings: { noise } }) => {
    if (noise.state !== 'measured') return null;
    const { lumaPct } = noise.values;
    if (task.value > PLASTIC_BELOW * lumaPct) return null;
    const sharePct = Math.floor((100 * grainFor(task.target)) / lumaPct / STEP_PCT) * STEP_PCT;
    return sharePct < STEP_PCT ? null : proposed(task, noise.values, Math.min(100, sharePct));
  },
  byHand: (task, { readings: { noise } }) =>
    noise.state === 'measured' ? proposed(task, noise.values, BY_HAND_PCT) : null,
};

/** Grain that a person asks for without saying how much, % of the noise that was measured. */
const BY_HAND_PCT = 20;

const proposed = (task: Task, noise: NoiseValues, sharePct: number): Proposal => {
  const { lumaPct, cbPct, crPct, curve } = noise;
  const settings = {
    sharePct,
    lumaPct: round(lumaPct),
    chromaPct: 0,
    sizePx: sizeOf(noise),
    byLevel: curve.map(({ levelPct, sigmaPct }) => [round(levelPct, 1), round(sigmaPct, 3)]),
  };
  return {
    settings,
    expect: comingTo(task, withGrain(task.value, settings)),
    risks: [
      'Too much of it is the noise that was taken out.',
      'A delivery that is compressed hard loses it, and the rate goes up.',
    ],
    check: [
      'Look at skin and plain walls at actual size: they must not look like plastic.',
      'Look from flat ground to fine texture: the grain must be alike.',
    ],
    fallback: ['Leave it out where the picture is scaled, keyed or graded further.'],
    cost: COST,
    because: `Its noise was ${round(lumaPct)} % of luma${Math.max(cbPct ?? 0, crPct ?? 0) > lumaPct ? ', colour aside' : ''}; ${sharePct} % of that, as coarse and as strong at each level, hides what averaging has smoothed.`,
    chance: 0.8,
    worth: WORTH,
  };
};

const COST: Step['cost'] = { renderWeight: 0.3, artistMinutes: 2, cropPct: 0 };

/** Noise and grain know nothing of each other: their powers add up. */
const withGrain = (left: number, settings: Step['settings']): number =>
  Math.hypot(left, (numberIn(settings, 'sharePct', 0) / 100) * numberIn(settings, 'lumaPct', 0));

/** The Gaussian that makes noise of single samples as coarse as what was measured, px. */
const sizeOf = ({ coarseShare }: Pick<NoiseValues, 'coarseShare'>): number => {
  let size = 0;
  while (size < 4 && coarseOf(size) < coarseShare) size += 0.1;
  return round(size, 1);
};

/** Share of the power of such noise that means over 4 × 4 samples keep: its correlation falls as exp(−d²/4σ²). */
const coarseOf = (size: number): number => {
  let along = 0;
  for (let i = 0; i < 4; i++)
    for (let j = 0; j < 4; j++)
      along += size > 0 ? Math.exp(-((i - j) ** 2) / (4 * size * size)) : Number(i === j);
  return (along / 16) ** 2;
};
