import type { ClipFacts } from '@bevrin/contract';
import { consensus, mean } from '../../maths/robust.js';
import type { Level } from '../../picture/pyramid.js';
import { smallScale, toLinearLight } from '../../picture/signal.js';
import type { Registration, Similarity } from '../../motion/register.js';

/** Row bands of the picture; fine enough to see six bars of light over its height. */
export const BANDS = 30;
const COLUMNS = 12;
/** Pixels darker or brighter than this (0–1 of range) follow light badly: footroom, clipping. */
const DARKEST = 0.06;
const BRIGHTEST = 0.95;
/** A tile needs this share of usable pixels to vote. */
const LEAST_USABLE = 0.3;
/** Agreement below which the tiles show different things and no light can be read. */
const LEAST_AGREEING = 0.3;
/** Log ratios closer than this are the same light. */
const SAME_LIGHT = 0.0008;
/** A pixel whose light changes by more than this factor is something else that came into its place. */
const NOT_LIGHT = 2;

/** Log light of each row band against the frame before; `null` where it could not be told. */
export type BandSteps = Float64Array | null;

/**
 * Follows the light of registered frames: each tile of a row band gives the log ratio of its light, and the
 * band's step is what most of its tiles share, so that a subject that crosses does not count as light.
 * About 15 operations per small pixel.
 */
export class LightFollower {
  private readonly light: Float32Array;
  private before: Float32Array | null = null;

  constructor(clip: Pick<ClipFacts, 'bitDepth' | 'range' | 'transfer'>) {
    const { black, span } = smallScale(clip);
    this.light = Float32Array.from({ length: 65536 }, (_, code) => {
      const signal = (code - black) / span;
      return signal < DARKEST || signal > BRIGHTEST ? NaN : toLinearLight(signal, clip.transfer);
    });
  }

  /** @param motion from the picture before, in its pixels */
  take({ width, height, samples }: Level, motion: Registration | null): BandSteps {
    const light = new Float32Array(samples.length);
    for (let i = 0; i < light.length; i++) light[i] = this.light[samples[i] | 0];
    const before = this.before;
    this.before = light;
    if (!before || before.length !== light.length) return null;
    const tiles = compare(before, light, width, height, motion);
    return tiles && stepsOf(tiles);
  }
}

/** Sums of the light of one tile before and after, over the pixels that both frames show. */
interface TileSums {
  readonly before: Float64Array;
  readonly after: Float64Array;
  readonly used: Float64Array;
  readonly size: Float64Array;
}

/** Log ratio of the light of each tile, `NaN` where too little is usable. */
const compare = (
  before: Float32Array,
  after: Float32Array,
  width: number,
  height: number,
  motion: Registration | null,
): Float64Array | null => {
  const still = { dx: 0, dy: 0, zoom: 0, turn: 0 };
  const [sumsBefore, sumsAfter, used, size] = Array.from(
    { length: 4 },
    () => new Float64Array(BANDS * COLUMNS),
  );
  const sums = { before: sumsBefore, after: sumsAfter, used, size };
  const columns = Int32Array.from({ length: COLUMNS + 1 }, (_, c) => Math.ceil((c * width) / COLUMNS));
  for (let y = 0; y < height; y++) {
    const row = Math.floor((y * BANDS) / height) * COLUMNS;
    for (let c = 0; c < COLUMNS; c++)
      addRun(
        before,
        after,
        width,
        height,
        y,
        columns[c],
        columns[c + 1],
        motion?.motion ?? still,
        sums,
        row + c,
      );
  }
  let voting = 0;
  const tiles = sumsBefore.map((s, t) => {
    if (used[t] < LEAST_USABLE * size[t] || size[t] < 4) return NaN;
    voting++;
    return Math.log(sumsAfter[t] / s);
  });
  return voting >= COLUMNS ? tiles : null;
};

/** Adds one row of one tile; the second picture is read at the place that the motion gives, bilinear. */
const addRun = (
  before: Float32Array,
  after: Float32Array,
  width: number,
  height: number,
  y: number,
  from: number,
  to: number,
  m: Similarity,
  sums: TileSums,
  tile: number,
): void => {
  const cx = (width - 1) / 2;
  const cy = (height - 1) / 2;
  let px = from + m.dx + m.zoom * (from - cx) - m.turn * (y - cy);
  let py = y + m.dy + m.turn * (from - cx) + m.zoom * (y - cy);
  const stepX = 1 + m.zoom;
  let [sumBefore, sumAfter, used] = [0, 0, 0];
  for (let i = y * width + from, end = y * width + to; i < end; i++, px += stepX, py += m.turn) {
    const a = before[i];
    if (px < 0 || py < 0 || px >= width - 1 || py >= height - 1) continue;
    const ix = px | 0;
    const iy = py | 0;
    const fx = px - ix;
    const fy = py - iy;
    const j = iy * width + ix;
    const top = after[j] + (after[j + 1] - after[j]) * fx;
    const bottom = after[j + width] + (after[j + width + 1] - after[j + width]) * fx;
    const b = top + (bottom - top) * fy;
    if (!(b < NOT_LIGHT * a && a < NOT_LIGHT * b)) continue; // also leaves out NaN: clipped or dark
    sumBefore += a;
    sumAfter += b;
    used++;
  }
  sums.before[tile] += sumBefore;
  sums.after[tile] += sumAfter;
  sums.used[tile] += used;
  sums.size[tile] += to - from;
};

/** A band whose own tiles are too few or at odds follows its neighbours. */
const stepsOf = (tiles: Float64Array): BandSteps => {
  const all = consensus(
    tiles.filter((t) => !Number.isNaN(t)),
    SAME_LIGHT,
  );
  const steps = new Float64Array(BANDS).fill(NaN);
  for (let band = 0; band < BANDS; band++) {
    const own = tiles.subarray(band * COLUMNS, (band + 1) * COLUMNS).filter((t) => !Number.isNaN(t));
    if (own.length < 4) continue;
    const { level, agreeing } = consensus(own, SAME_LIGHT);
    if (agreeing >= LEAST_AGREEING) steps[band] = level;
  }
  const known = steps.filter((s) => !Number.isNaN(s));
  if (known.length < BANDS / 3) return all.agreeing >= LEAST_AGREEING ? steps.fill(all.level) : null;
  const fallback = mean(known);
  return steps.map((s, band) => (Number.isNaN(s) ? (nearestKnown(steps, band) ?? fallback) : s));
};

const nearestKnown = (steps: Float64Array, band: number): number | null => {
  for (let reach = 1; reach < BANDS; reach++) {
    const near = [steps[band - reach], steps[band + reach]].filter(
      (s) => s !== undefined && !Number.isNaN(s),
    );
    if (near.length > 0) return mean(near);
  }
  return null;
};
