import { bending } from './bend.js';
import { detailHarm } from './detail.js';
import { notMeasurable, type HarmFigure } from './figure.js';
import { ghosting } from './ghost.js';
import { grainEvenness } from './grain.js';
import { halos } from './halo.js';
import { levelShift } from './level.js';
import type { BeforeAfter } from './pair.js';
import { takenStructure } from './taken.js';

/** What a repair did to the picture besides the repair. Each in its unit; docs/harm.md says how. */
export interface Harm {
  /** Transfer of true detail, %: 100 = all kept; of the finest, and of what is about three times as wide. */
  readonly detailKeptPct: HarmFigure;
  readonly mediumDetailKeptPct: HarmFigure;
  /** Share of what was taken away that is picture, %. */
  readonly takenStructurePct: HarmFigure;
  /** Detail lost where things move beyond what is lost elsewhere, points. */
  readonly smearPct: HarmFigure;
  /** How much of another frame shows through, %. */
  readonly ghostPct: HarmFigure;
  /** Bending of what was straight, luma pixels: RMS and worst. */
  readonly bendPx: HarmFigure;
  readonly worstBendPx: HarmFigure;
  /** Lines beside edges, % of the step, beyond the original's. */
  readonly haloPct: HarmFigure;
  /** Whether what is left of the grain is alike everywhere, 0–1. */
  readonly grainEvenness: HarmFigure;
  /** Picture lost on each axis, %. */
  readonly cropPct: HarmFigure;
  /** Brightness that changed, and colour, % of the range. */
  readonly levelShiftPct: HarmFigure;
  readonly cbShiftPct: HarmFigure;
  readonly crShiftPct: HarmFigure;
}

/**
 * Measures what a repair did to the picture.
 * @param cropPct what the repair says it gave up of each axis
 */
export const harmOf = (pair: BeforeAfter, cropPct = 0): Harm => {
  const { kept, smear } = detailHarm(pair);
  const bend = bending(pair);
  const colourless = notMeasurable('The clip has no colour.');
  const [luma, cb = colourless, cr = colourless] = levelShift(pair);
  return {
    detailKeptPct: kept.fine,
    mediumDetailKeptPct: kept.medium,
    takenStructurePct: takenStructure(pair),
    smearPct: smear,
    ghostPct: ghosting(pair),
    bendPx: bend.rms,
    worstBendPx: bend.worst,
    haloPct: halos(pair),
    grainEvenness: grainEvenness(pair),
    cropPct: { value: cropPct, tiles: 0, frames: pair.after.size, worst: null },
    levelShiftPct: luma,
    cbShiftPct: cb,
    crShiftPct: cr,
  };
};
