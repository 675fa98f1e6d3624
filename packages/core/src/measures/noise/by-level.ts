import { ENOUGH, SEVERAL } from '../../maths/enough.js';
import { mean, median } from '../../maths/robust.js';
import { rounded } from '../../maths/round.js';
import type { BlockNoise, Channel } from './block-noise.js';
import { CHANNELS, type NoiseValues } from './descriptor.js';
import { byBand, LEVEL_BANDS } from './pair.js';

const DIGITS = 4;
/** As a reading of noise is given: % to four places. */
export const round = (v: number): number => rounded(v, DIGITS);

/** Median over blocks in each level band, put together as the levels occur in the picture. */
export const channelPowers = (
  found: readonly BlockNoise[],
  levels: Float64Array,
  samples: number,
): Record<Channel, number> => {
  // The median of a chi-squared variable lies below its mean (Wilson and Hilferty 1931).
  const medianToMean = 1 / (1 - 2 / (9 * samples)) ** 3;
  const bands = byBand(found, (b) => b.levelPct);
  const filled = bands.flatMap((blocks, band) => (blocks.length >= ENOUGH ? [band] : []));
  const of = (channel: Channel): number => {
    if (filled.length === 0) return median(found.map((b) => b.power[channel])) * medianToMean;
    let sum = 0;
    let weights = 0;
    for (let band = 0; band < LEVEL_BANDS; band++) {
      const nearest = filled.reduce((a, b) => (Math.abs(b - band) < Math.abs(a - band) ? b : a));
      if (Math.abs(nearest - band) > 2) continue;
      sum += levels[band] * median(bands[nearest].map((b) => b.power[channel]));
      weights += levels[band];
    }
    return (sum / weights) * medianToMean;
  };
  return Object.fromEntries(CHANNELS.map((c) => [c, of(c)])) as Record<Channel, number>;
};

/** The curves of the channels that the clip has, beside that of luma. */
export const channelCurves = (
  found: readonly BlockNoise[],
  fixed: number,
): NonNullable<NoiseValues['channelCurves']> =>
  Object.fromEntries(
    CHANNELS.filter((c) => c !== 'luma' && found.every((b) => Number.isFinite(b.power[c]))).map((c) => [
      c,
      levelCurve(found, c, fixed),
    ]),
  );

/** Noise against the level of luma. */
export const levelCurve = (
  found: readonly BlockNoise[],
  channel: Channel,
  fixed: number,
): NoiseValues['curve'] =>
  byBand(found, (b) => b.levelPct)
    .filter((blocks) => blocks.length >= SEVERAL)
    .map((blocks) => ({
      levelPct: round(mean(blocks.map((b) => b.levelPct))),
      sigmaPct: round(Math.sqrt(median(blocks.map((b) => b.power[channel])) + fixed)),
      ...(blocks.length < ENOUGH && { few: true }),
    }));
