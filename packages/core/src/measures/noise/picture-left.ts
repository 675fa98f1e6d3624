import { ENOUGH } from '../../maths/enough.js';
import { madSigma, median } from '../../maths/robust.js';
import type { Plane } from '../../picture/frame.js';
import type { BlockNoise, Channel, Rho } from './block-noise.js';
import { CHANNELS } from './descriptor.js';
import { meanOfBoth } from './both.js';
import { BLOCK, byBand } from './pair.js';
import { filteredCovariance, noiseGain } from './resample.js';

/**
 * How much fine detail a block holds: mean square of the second differences along rows and down columns of the mean of both
 * frames, (% of range)².
 * @param difference the second frame less the first, % of range
 * @param x top left corner in the first frame
 */
export const detailOf = (
  plane: Plane,
  x: number,
  y: number,
  difference: Float64Array,
  pctPerCode: number,
): number => {
  const both = meanOfBoth(plane, { x, y, width: BLOCK, height: BLOCK }, difference, pctPerCode);
  let sum = 0;
  for (let r = 1; r < BLOCK - 1; r++)
    for (let c = 1; c < BLOCK - 1; c++) {
      const i = r * BLOCK + c;
      const across = 2 * both[i] - both[i - 1] - both[i + 1];
      const down = 2 * both[i] - both[i - BLOCK] - both[i + BLOCK];
      sum += across * across + down * down;
    }
  return sum / (BLOCK - 2) ** 2;
};

/**
 * What {@link detailOf} reads of noise alone, over the variance of the noise of one frame.
 * @param rho autocorrelation of the noise, @param light of the second frame, whose noise went through the filter
 */
export const detailOfNoise = (rho: Rho, tapsX: Float64Array, tapsY: Float64Array, light: number): number => {
  const second = (at: (lag: number) => number): number => 6 * at(0) - 8 * at(1) + 2 * at(2);
  const axis = (own: Float64Array, taps: Float64Array, otherGain: number): number =>
    second((lag) => own[lag]) +
    light * light * otherGain * second((lag) => filteredCovariance(taps, own, lag));
  return (
    (axis(rho.across, tapsX, noiseGain(tapsY, rho.down)) +
      axis(rho.down, tapsY, noiseGain(tapsX, rho.across))) /
    4
  );
};

/** Standard errors that a slope stands above nothing: by chance one in 700 does. */
const SURE = 3;
/** How often what is noise and what is picture are told from one another anew. */
const PASSES = 3;

/**
 * Blocks without what is left of the picture where a frame is laid over another that was shifted by parts of a pixel, or by
 * one site of a mosaic: detail finer than a sensor tells is drawn anew in each. It grows evenly with the detail that a block
 * holds, and noise does not: what is read is led back to where there is no detail.
 * @param found blocks of a pair whose frames lie apart
 */
export const withoutPicture = (found: readonly BlockNoise[]): BlockNoise[] => {
  const bands = byBand([...found.keys()], (i) => found[i].levelPct);
  let luma = found.map((b) => b.power.luma);
  let beyond: Float64Array = new Float64Array(found.length);
  let halves: Halves[] = [];
  for (let pass = 0; pass < PASSES; pass++) {
    beyond = beyondNoise(found, bands, luma);
    halves = halvesOf(bands, beyond);
    const slope = slopeOf(found, halves, 'luma');
    luma = found.map((b, i) => b.power.luma - slope * beyond[i]);
  }
  const slopes = CHANNELS.map((c) => [c, slopeOf(found, halves, c)] as const);
  return found.map((b, i) => {
    const power = Object.fromEntries(
      slopes.map(([c, slope]) => [c, Math.max(0, b.power[c] - slope * beyond[i])]),
    ) as Record<Channel, number>;
    const share = b.power.luma > 0 ? power.luma / b.power.luma : 1;
    return { ...b, power, graded: b.graded === null ? null : share * b.graded };
  });
};

/** How much more detail each block holds than the noise at its level. @param luma noise power of each block */
const beyondNoise = (
  found: readonly BlockNoise[],
  bands: readonly (readonly number[])[],
  luma: readonly number[],
): Float64Array => {
  const all = median(luma);
  const beyond = new Float64Array(found.length);
  for (const band of bands) {
    const noise = Math.max(0, band.length >= ENOUGH ? median(band.map((i) => luma[i])) : all);
    for (const i of band)
      beyond[i] = Math.max(0, found[i].detail - Math.max(0, found[i].detailOfNoise) * noise);
  }
  return beyond;
};

/** The blocks of a level that hold less and more detail, and by how much their medians lie apart. */
interface Halves {
  readonly low: readonly number[];
  readonly high: readonly number[];
  readonly apart: number;
}

const halvesOf = (bands: readonly (readonly number[])[], beyond: Float64Array): Halves[] =>
  bands
    .filter((band) => band.length >= 2 * ENOUGH)
    .map((band) => {
      const order = band.toSorted((a, b) => beyond[a] - beyond[b]);
      const [low, high] = [order.slice(0, order.length >> 1), order.slice(order.length >> 1)];
      const middle = (half: readonly number[]): number => median(half.map((i) => beyond[i]));
      return { low, high, apart: middle(high) - middle(low) };
    });

/** By how much the power of a channel grows with detail, among blocks that are alike in level; never the other way. */
const slopeOf = (found: readonly BlockNoise[], halves: readonly Halves[], channel: Channel): number => {
  let [rise, run, variance] = [0, 0, 0];
  for (const { low, high, apart } of halves) {
    const [less, more] = [low, high].map((half) => half.map((i) => found[i].power[channel]));
    const count = low.length + high.length;
    // Levels whose blocks differ more tell more.
    rise += count * apart * (median(more) - median(less));
    run += count * apart * apart;
    variance += (count * apart) ** 2 * (errorOfMedian(less) + errorOfMedian(more));
  }
  return run > 0 && rise > SURE * Math.sqrt(variance) ? rise / run : 0;
};

/** Variance of a median (Laplace 1818). */
const errorOfMedian = (values: readonly number[]): number =>
  (Math.PI / 2) * (madSigma(values) ** 2 / values.length);
