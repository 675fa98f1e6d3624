import { SEVERAL } from '../../maths/enough.js';
import type { ClipFacts } from '#terms';
import { consensus, madSigma, mean, median } from '../../maths/robust.js';
import { kernels } from '../../kernels/kernels.js';
import type { Level } from '../../picture/pyramid.js';
import { Rooms } from '../../picture/rooms.js';
import { lightOfSmallCodes, smallScale } from '../../picture/signal.js';
import { STILL, type Registration } from '../../motion/similarity.js';

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
  private readonly rooms = new Rooms(2);

  constructor(clip: Pick<ClipFacts, 'bitDepth' | 'range' | 'transfer'>) {
    const { black, span } = smallScale(clip);
    this.darkest = black + DARKEST * span;
    this.linear = Float32Array.from(lightOfSmallCodes(clip));
    // Loops, not `map`: there are 65536 of them, for every clip.
    for (let code = Math.floor(black + BRIGHTEST * span) + 1; code < this.linear.length; code++)
      this.linear[code] = NaN;
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
    const light = this.lightOf(samples, detail.samples, leftOut);
    const before = this.before;
    this.before = light;
    if (!before || before.length !== light.length) return null;
    const tiles = compare(before, light, width, height, motion);
    if (!tiles) return null;
    leaveOutStrangers(tiles, strangers);
    return stepsOf(tiles);
  }

  /** Linear light of each pixel, NaN where it is too dark, clipped or left out. */
  private lightOf(samples: Float32Array, detail: Float32Array, leftOut: Uint8Array | null): Float32Array {
    const count = samples.length;
    const table = kernels.keep(this.linear);
    kernels.reserve(4 * count, 4);
    const [picture, free] = [kernels.put(samples), kernels.put(detail)];
    const out = leftOut ? kernels.putBytes(leftOut) : 0;
    const to = kernels.room(count);
    kernels.run.lightOf(picture, free, out, table, this.darkest, count, to);
    return kernels.copy(to, this.rooms.take(count));
  }
}

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
  if (tiles.length - lost < LEAST_USABLE * tiles.length) return;
  strange.forEach((s, t) => {
    if (s) tiles[t] = NaN;
  });
};

/** Numbers that the kernel leaves for each tile: light before, light after, pixels used, pixels there. */
const SUMS = 4;

/** Log ratio of the light of each tile, `NaN` where too little is usable; the second picture is read where the motion puts it. */
const compare = (
  before: Float32Array,
  after: Float32Array,
  width: number,
  height: number,
  motion: Registration | null,
): Float64Array | null => {
  const { dx, dy, zoom, turn } = motion?.motion ?? STILL;
  const count = BANDS * COLUMNS;
  kernels.reserve(before.length + after.length + 2 * SUMS * count, 3);
  const sums = kernels.room(2 * SUMS * count);
  const [a, b] = [kernels.put(before), kernels.put(after)];
  kernels.run.tileLight(a, b, width, height, BANDS, COLUMNS, dx, dy, zoom, turn, sums);
  const read = kernels.getDoubles(sums, SUMS * count);
  let voting = 0;
  const tiles = new Float64Array(count).fill(NaN);
  for (let t = 0, o = 0; t < count; t++, o += SUMS) {
    const [used, size] = [read[o + 2], read[o + 3]];
    if (used < LEAST_USABLE * size || size < 4) continue;
    voting++;
    tiles[t] = Math.log(read[o + 1] / read[o]);
  }
  return voting >= COLUMNS ? tiles : null;
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

/** How far the tiles of a band scatter about its middle, over all bands: robust standard deviation. */
const tileNoise = (tiles: Float64Array): number => {
  const apart: number[] = [];
  for (let band = 0; band < BANDS; band++) {
    const own = tiles.subarray(band * COLUMNS, (band + 1) * COLUMNS).filter((t) => !Number.isNaN(t));
    const middle = median(own);
    if (own.length >= SEVERAL) own.forEach((t) => apart.push(t - middle));
  }
  return apart.length > 0 ? madSigma(apart, 0) : 0;
};

/** The step on which most of some tiles agree. */
const stepOf = (tiles: Float64Array, noise: number): { light: number; error: number } | null => {
  const usable = new Float64Array(tiles.length);
  let count = 0;
  for (let t = 0; t < tiles.length; t++) if (!Number.isNaN(tiles[t])) usable[count++] = tiles[t];
  if (count < SEVERAL) return null;
  const { level, agreeing, reach } = consensus(usable.subarray(0, count), noise);
  if (agreeing < LEAST_AGREEING) return null;
  const apart = (agreeingMean(tiles, 0, level, reach) - agreeingMean(tiles, 1, level, reach)) / 2;
  return { light: level, error: Number.isNaN(apart) ? reach / 2 : apart };
};

/** Mean of every other tile, from `first` on, that lies within reach of a level; NaN where none does. */
const agreeingMean = (tiles: Float64Array, first: 0 | 1, level: number, reach: number): number => {
  let [sum, count] = [0, 0];
  for (let t = first; t < tiles.length; t += 2)
    if (Math.abs(tiles[t] - level) < reach) {
      sum += tiles[t];
      count++;
    }
  return sum / count;
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
