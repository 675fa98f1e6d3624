import { bending } from './bend.js';
import { detailHarm } from './detail.js';
import { notMeasurable, type HarmFigure } from './figure.js';
import { ghosting } from './ghost.js';
import { grainEvenness } from './grain.js';
import { halos } from './halo.js';
import { levelShift } from './level.js';
import type { BeforeAfter } from './pair.js';
import { inLightOf } from './match-light.js';
import { takenStructure } from './taken.js';
import type { Place } from '../measures/hot-pixels/place.js';
import { Study } from '../treatments/study.js';

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

const FAULT_STANDS =
  'The fault itself stands in the picture as detail does: what was taken cannot be told from it.';

const ROWS_STRAIGHT = 'Rows were set straight: what lies elsewhere now is what was asked for.';

/** What a repair was asked to change: it is no harm. */
export interface Asked {
  /** Light that changes from frame to frame. */
  readonly light?: boolean;
  /** Rows set straight: they no longer lie as they did. */
  readonly rows?: boolean;
  /** Something that stands in the picture as its detail does. */
  readonly structure?: boolean;
  /** The picture elsewhere: it was set back, and so resampled twice where the repair did it once. */
  readonly moved?: boolean;
  /** Picture given up on each axis, %. */
  readonly cropPct?: number;
  /** Faults of the sensor in the picture as it came, luma pixels: they are no detail of it. */
  readonly faults?: readonly Place[];
}

/**
 * Measures what a repair did to the picture.
 * @param given frames before and after
 */
export const harmOf = (
  given: BeforeAfter,
  { light = false, structure = false, moved = false, rows = false, cropPct = 0, faults = [] }: Asked = {},
): Harm => {
  const pair = light ? relit(given) : given;
  const { kept, smear } = detailHarm(pair, faults);
  const bend = bending(pair);
  const colourless = notMeasurable('The clip has no colour.');
  const [luma, cb = colourless, cr = colourless] = levelShift(pair);
  return {
    detailKeptPct: moved ? once(kept.fine) : kept.fine,
    mediumDetailKeptPct: moved ? once(kept.medium) : kept.medium,
    takenStructurePct: structure || moved ? notMeasurable(FAULT_STANDS) : takenStructure(pair),
    smearPct: smear,
    ghostPct: rows ? notMeasurable(ROWS_STRAIGHT) : ghosting(pair),
    bendPx: rows ? notMeasurable(ROWS_STRAIGHT) : bend.rms,
    worstBendPx: rows ? notMeasurable(ROWS_STRAIGHT) : bend.worst,
    haloPct: halos(pair),
    grainEvenness: grainEvenness(pair),
    cropPct: { value: cropPct, tiles: 0, frames: pair.after.size, worst: null },
    levelShiftPct: luma,
    cbShiftPct: cb,
    crShiftPct: cr,
  };
};

/** Of detail that was resampled twice, what one resampling has left: each takes the same share. */
const once = (kept: HarmFigure): HarmFigure =>
  kept.value === null ? kept : { ...kept, value: 10 * Math.sqrt(Math.max(0, kept.value)) };

/** The frames before a repair in the light of those after it. */
const relit = (pair: BeforeAfter): BeforeAfter => {
  const { sequence } = pair.before;
  const pictures = sequence.pictures.map((picture, i) => {
    const after = pair.after.get(i);
    return after ? inLightOf(picture, after, sequence.clip) : picture;
  });
  return { ...pair, before: new Study({ ...sequence, pictures }) };
};
