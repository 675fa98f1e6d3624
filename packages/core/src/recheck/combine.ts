import { HarmValues, type HarmName, type JudgedHarm } from '#document';
import type { HarmFigure } from '../harm/figure.js';
import type { Harm } from '../harm/harm.js';
import { median } from '../maths/robust.js';
import { rounded } from '../maths/round.js';

/** What was harmed about one frame of the repaired file. */
export interface HarmedWindow {
  /** The frame of the repaired file in its middle. */
  readonly frame: number;
  readonly harm: Harm;
}

/** How figures of several places of a clip become one. */
type Together = 'mean' | 'median' | 'most' | 'rms' | 'largest';
const TOGETHER: Record<HarmName, Together> = {
  detailKeptPct: 'mean',
  mediumDetailKeptPct: 'mean',
  takenStructurePct: 'median',
  smearPct: 'most',
  ghostPct: 'most',
  bendPx: 'rms',
  worstBendPx: 'largest',
  haloPct: 'median',
  grainEvenness: 'median',
  cropPct: 'median',
  levelShiftPct: 'median',
  cbShiftPct: 'median',
  crShiftPct: 'median',
};

type Measured = Extract<HarmFigure, { value: number }> & { readonly frame: number };

/** What most windows stay below: a subject need not be there in all of them, and one may be chance. */
const MOST = 0.75;
const DIGITS = 3;

/** Harm over a whole clip: a figure each, why those that are not there are not, and the worst places in the repaired file. */
export interface CombinedHarm {
  readonly harm: HarmValues;
  readonly notMeasurable: Record<string, string>;
  readonly worstAt: Partial<Record<HarmName, NonNullable<JudgedHarm['at']>>>;
}

/** @param windows about several frames of the clip; `frame` of a worst place is counted in the repaired file */
export const combined = (windows: readonly HarmedWindow[]): CombinedHarm => {
  const notMeasurable: Record<string, string> = {};
  const worstAt: CombinedHarm['worstAt'] = {};
  const values = Object.keys(HarmValues.shape).map((key) => {
    const name = key as HarmName;
    const found = windows.flatMap(({ frame, harm }): Measured[] => {
      const figure = harm[name];
      return figure.value === null ? [] : [{ ...figure, frame }];
    });
    if (found.length === 0) {
      const first = windows[0]?.harm[name];
      notMeasurable[name] =
        first?.value === null ? first.reason : 'No frames could be set against each other.';
      return [name, null] as const;
    }
    const worst = found.reduce((a, b) => (badness(name, b.value) > badness(name, a.value) ? b : a));
    if (worst.worst) worstAt[name] = { x: worst.worst.x, y: worst.worst.y, frame: worst.frame };
    return [name, rounded(together(TOGETHER[name], found), DIGITS)] as const;
  });
  return { harm: HarmValues.parse(Object.fromEntries(values)), notMeasurable, worstAt };
};

const badness = (name: HarmName, value: number): number =>
  TOGETHER[name] === 'mean' || name === 'grainEvenness' ? -value : value;

const together = (how: Together, found: readonly Measured[]): number => {
  const values = found.map((f) => f.value);
  switch (how) {
    case 'mean': {
      const tiles = found.reduce((s, f) => s + f.tiles, 0);
      return tiles > 0
        ? found.reduce((s, f) => s + f.tiles * f.value, 0) / tiles
        : values.reduce((s, v) => s + v, 0) / values.length;
    }
    case 'median':
      return median(values);
    case 'most':
      return [...values].sort((a, b) => a - b)[Math.floor(MOST * (values.length - 1))];
    case 'rms':
      return Math.sqrt(values.reduce((s, v) => s + v * v, 0) / values.length);
    case 'largest':
      return Math.max(...values);
  }
};
