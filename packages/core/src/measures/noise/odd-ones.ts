import { madSigma, median } from '../../maths/robust.js';
import type { BlockNoise } from './block-noise.js';

/**
 * A block whose difference holds so many times the power of most is odd, as is one whose neighbouring samples differ less than in
 * most, by so many times what that scatters: a piece of picture.
 */
const ODD = 4;

/** How alike neighbouring samples of a difference are: not at all where it is fine noise. */
const evenness = ({ covariance: { across, down } }: BlockNoise): number => {
  const power = across[0] + down[0];
  return power > 0 ? (across[1] + down[1]) / power : 0;
};

/** Blocks that hold more than the noise of the others, or another one: their indexes, from the one that holds most. */
export const oddOnes = (read: readonly BlockNoise[]): number[] => {
  const usual = median(read.map((b) => b.power.luma));
  const even = read.map(evenness);
  const most = median(even) + ODD * madSigma(even);
  return [...read.keys()]
    .filter((i) => read[i].power.luma > ODD * usual || even[i] > most)
    .sort((a, b) => read[b].power.luma - read[a].power.luma);
};
