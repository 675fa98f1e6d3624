import { madSigma, median } from '../../maths/robust.js';
import type { Plane } from '../../picture/frame.js';
import type { BlockNoise, Channel, Rho } from './block-noise.js';
import { bandOf, BLOCK, LEVEL_BANDS } from './pair.js';
import { filteredCovariance, noiseGain } from './resample.js';

/**
 * How much fine detail a block holds: mean square of the second differences along rows and down columns of the mean of both
 * frames, (% of range)². The mean of two frames and their difference hold different noise: one tells nothing of the other.
 * @param difference the second frame less the first, % of range
 * @param x top left corner in the first frame
 */
export const detailOf = (
  { samples, width }: Plane,
  x: number,
  y: number,
  difference: Float64Array,
  pctPerCode: number,
): number => {
  const both = new Float64Array(BLOCK * BLOCK);
  for (let r = 0, i = 0; r < BLOCK; r++)
    for (let c = 0; c < BLOCK; c++, i++)
      both[i] = pctPerCode * samples[(y + r) * width + x + c] + difference[i] / 2;
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
 * @param rho autocorrelation of the noise, @param gain light of the second frame, whose noise went through the filter
 */
export const detailOfNoise = (rho: Rho, tapsX: Float64Array, tapsY: Float64Array, gain: number): number => {
  const second = (at: (lag: number) => number): number => 6 * at(0) - 8 * at(1) + 2 * at(2);
  const axis = (own: Float64Array, taps: Float64Array, otherGain: number): number =>
    second((lag) => own[lag]) + gain * gain * otherGain * second((lag) => filteredCovariance(taps, own, lag));
  return (
    (axis(rho.across, tapsX, noiseGain(tapsY, rho.down)) +
      axis(rho.down, tapsY, noiseGain(tapsX, rho.across))) /
    4
  );
};

/** Fewer blocks than this on each side of the middle of a level tell no slope. */
const LEAST_HALF = 12;
/** Standard errors that a slope stands above nothing: by chance one in 700 does. */
const SURE = 3;
/** How often what is noise and what is picture are told from one another anew. */
const PASSES = 3;

/**
 * Blocks without what is left of the picture where a frame is laid over another that was shifted by parts of a pixel, or by
 * one site of a mosaic: detail finer than a sensor tells is drawn anew in each. It grows evenly with the detail that a block
 * holds, and noise does not: what is read is led back to where there is no detail.
 * @param found blocks of pairs whose frames lie apart
 */
export const withoutPicture = (found: readonly BlockNoise[]): BlockNoise[] => {
  let luma = found.map((b) => b.power.luma);
  let beyond: number[] = [];
  for (let pass = 0; pass < PASSES; pass++) {
    const noise = byLevel(found, luma);
    beyond = found.map((b, i) => Math.max(0, b.detail - Math.max(0, b.detailOfNoise) * noise(i)));
    const slope = slopeOf(found, beyond, 'luma');
    luma = found.map((b, i) => b.power.luma - slope * beyond[i]);
  }
  const slopes = Object.keys(found[0]?.power ?? {}).map(
    (c) => [c as Channel, slopeOf(found, beyond, c as Channel)] as const,
  );
  return found.map((b, i) => {
    const power = Object.fromEntries(
      slopes.map(([c, slope]) => [c, Math.max(0, b.power[c] - slope * beyond[i])]),
    ) as Record<Channel, number>;
    const share = b.power.luma > 0 ? power.luma / b.power.luma : 1;
    return { ...b, power, graded: b.graded === null ? null : share * b.graded };
  });
};

/** The noise of luma at the level of each block. */
const byLevel = (found: readonly BlockNoise[], luma: readonly number[]): ((block: number) => number) => {
  const all = median(luma);
  const of = bandsOf(found).map((band) =>
    band.length >= LEAST_HALF ? median(band.map((i) => luma[i])) : all,
  );
  return (i) => Math.max(0, of[bandOf(found[i].levelPct)]);
};

const bandsOf = (found: readonly BlockNoise[]): number[][] => {
  const bands = Array.from({ length: LEVEL_BANDS }, (): number[] => []);
  found.forEach((b, i) => bands[bandOf(b.levelPct)].push(i));
  return bands;
};

/** By how much the power of a channel grows with detail, among blocks that are alike in level; never the other way. */
const slopeOf = (found: readonly BlockNoise[], beyond: readonly number[], channel: Channel): number => {
  let [rise, run, variance] = [0, 0, 0];
  for (const band of bandsOf(found)) {
    if (band.length < 2 * LEAST_HALF) continue;
    const order = band.toSorted((a, b) => beyond[a] - beyond[b]);
    const halves = [order.slice(0, order.length >> 1), order.slice(order.length >> 1)];
    const [low, high] = halves.map((half) => ({
      detail: median(half.map((i) => beyond[i])),
      power: median(half.map((i) => found[i].power[channel])),
      // Of a median (Laplace 1818).
      error: (Math.PI / 2) * (madSigma(half.map((i) => found[i].power[channel])) ** 2 / half.length),
    }));
    // Levels whose blocks differ more tell more.
    const apart = high.detail - low.detail;
    rise += band.length * apart * (high.power - low.power);
    run += band.length * apart * apart;
    variance += (band.length * apart) ** 2 * (low.error + high.error);
  }
  return run > 0 && rise > SURE * Math.sqrt(variance) ? rise / run : 0;
};
