import type { ClipFacts } from '#terms';
import { consensus, madSigma, mean, median } from '../../maths/robust.js';
import type { Level } from '../../picture/pyramid.js';
import { smallScale, toLinearLight } from '../../picture/signal.js';
import { STILL, type Registration, type Similarity } from '../../motion/similarity.js';

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

/** How the light of each row band changed from the frame before. */
export interface LightSteps {
  /** Log ratio of the light, one value a band. */
  readonly light: Float64Array;
  /** Half of what the even and the odd columns disagree by: as large as the error of `light`, and independent of it. */
  readonly error: Float64Array;
}
/** `null` where the light could not be told. */
export type BandSteps = LightSteps | null;

/**
 * Follows the light of registered frames: each tile of a row band gives the log ratio of its light, and the
 * band's step is what most of its tiles share, so that a subject that crosses does not count as light.
 * About 15 operations per small pixel.
 */
export class LightFollower {
  private readonly linear: Float32Array;
  private readonly darkest: number;
  private before: Float32Array | null = null;

  constructor(clip: Pick<ClipFacts, 'bitDepth' | 'range' | 'transfer'>) {
    const { black, span } = smallScale(clip);
    this.darkest = black + DARKEST * span;
    this.linear = Float32Array.from({ length: 65536 }, (_, code) => {
      const signal = (code - black) / span;
      return signal > BRIGHTEST ? NaN : toLinearLight(signal, clip.transfer);
    });
  }

  /**
   * @param picture luma, codes shifted up to 16 bits
   * @param detail the same free of its local mean: what is too dark is told by the mean, for to tell it pixel by pixel
   *   would keep those that noise had raised
   * @param motion from the picture before, in its pixels
   * @param leftOut 1 for each pixel that plays no part
   * @param strangers places that did not follow the camera, fractions of the picture: what goes its own way is no light
   */
  take(
    { width, height, samples }: Level,
    detail: Level,
    motion: Registration | null,
    leftOut: Uint8Array | null = null,
    strangers: readonly { readonly x: number; readonly y: number }[] = [],
  ): BandSteps {
    const light = new Float32Array(samples.length);
    for (let i = 0; i < light.length; i++)
      light[i] =
        samples[i] - detail.samples[i] < this.darkest || leftOut?.[i] ? NaN : this.linear[samples[i] | 0];
    const before = this.before;
    this.before = light;
    if (!before || before.length !== light.length) return null;
    const tiles = compare(before, light, width, height, motion);
    if (!tiles) return null;
    leaveOutStrangers(tiles, strangers);
    return stepsOf(tiles);
  }
}

/** Where so many tiles went their own way that too few would be left, none is left out. */
const MOST_STRANGE = 0.6;
/** A stranger covers the tiles this far about it, shares of the height and the width. */
const STRANGER_HIGH = 0.05;

/** Takes the vote from tiles in which something goes its own way. */
const leaveOutStrangers = (
  tiles: Float64Array,
  strangers: readonly { readonly x: number; readonly y: number }[],
): void => {
  const strange = new Uint8Array(tiles.length);
  for (const { x, y } of strangers) {
    const column = Math.min(COLUMNS - 1, Math.max(0, Math.floor(x * COLUMNS)));
    const first = Math.max(0, Math.floor((y - STRANGER_HIGH) * BANDS));
    const last = Math.min(BANDS - 1, Math.floor((y + STRANGER_HIGH) * BANDS));
    for (let band = first; band <= last; band++) strange[band * COLUMNS + column] = 1;
  }
  const lost = strange.reduce((n, s) => n + s, 0);
  if (lost > MOST_STRANGE * tiles.length) return;
  strange.forEach((s, t) => {
    if (s) tiles[t] = NaN;
  });
};

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
        motion?.motion ?? STILL,
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
  const [light, error] = [new Float64Array(BANDS).fill(NaN), new Float64Array(BANDS).fill(NaN)];
  const noise = Math.max(SAME_LIGHT, tileNoise(tiles));
  let known = 0;
  for (let band = 0; band < BANDS; band++) {
    const own = stepOf(tiles.subarray(band * COLUMNS, (band + 1) * COLUMNS), noise);
    if (!own) continue;
    light[band] = own.light;
    error[band] = own.error;
    known++;
  }
  if (known >= BANDS / 3) return { light: filledIn(light), error: filledIn(error) };
  const all = stepOf(tiles, noise);
  return all && { light: light.fill(all.light), error: error.fill(all.error) };
};

const LEAST_TILES = 4;

/** How far the tiles of a band scatter about its middle, over all bands: robust standard deviation. */
const tileNoise = (tiles: Float64Array): number => {
  const apart: number[] = [];
  for (let band = 0; band < BANDS; band++) {
    const own = tiles.subarray(band * COLUMNS, (band + 1) * COLUMNS).filter((t) => !Number.isNaN(t));
    const middle = median(own);
    if (own.length >= LEAST_TILES) own.forEach((t) => apart.push(t - middle));
  }
  return apart.length > 0 ? madSigma(apart, 0) : 0;
};

/** The step on which most of some tiles agree. */
const stepOf = (tiles: Float64Array, noise: number): { light: number; error: number } | null => {
  const usable = tiles.filter((t) => !Number.isNaN(t));
  if (usable.length < LEAST_TILES) return null;
  const { level, agreeing, reach } = consensus(usable, noise);
  if (agreeing < LEAST_AGREEING) return null;
  const half = (parity: number): number =>
    mean(tiles.filter((t, i) => i % 2 === parity && Math.abs(t - level) < reach));
  const apart = (half(0) - half(1)) / 2;
  return { light: level, error: Number.isNaN(apart) ? reach / 2 : apart };
};

/** Unknown bands take the mean of the nearest known ones. */
const filledIn = (steps: Float64Array): Float64Array =>
  steps.map((s, band) => {
    if (!Number.isNaN(s)) return s;
    for (let reach = 1; reach < BANDS; reach++) {
      const near = [steps[band - reach], steps[band + reach]].filter(
        (n) => n !== undefined && !Number.isNaN(n),
      );
      if (near.length > 0) return mean(near);
    }
    return NaN;
  });
