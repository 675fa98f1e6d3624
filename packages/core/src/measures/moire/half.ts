import { kernels } from '../../kernels/kernels.js';
import type { Plane } from '../../picture/frame.js';

/** Averages of planes of few bits are kept this much finer than codes, in bits. */
const FINER_BITS = 3;
const SUM_BITS = 6;
const WORD_BITS = 16;

/** How many steps make a code in a plane that was halved: as many as fit into its samples. */
export const finerOf = (bitDepth: number): number => 2 ** finerBitsOf(bitDepth);

const finerBitsOf = (bitDepth: number): number => Math.min(FINER_BITS, WORD_BITS - bitDepth);

/**
 * Halves planes for a look at wide patterns. Weights 1 3 3 1 each way: what is as fine as threads is gone before it could
 * alias (below a hundredth from 0.43 cycles a pixel on), wide patterns stay. Four pixels at a time, about 15 operations each.
 * @param bitDepth of the samples
 * @returns a plane of half the size, rounded down, {@link finerOf} steps a code; a copy of its own
 */
export const halfOf = ({ width, height, samples }: Plane, bitDepth: number): Plane => {
  const [w, h] = [Math.max(1, width >> 1), Math.max(1, height >> 1)];
  kernels.reserve(samples.length, 2);
  const from = kernels.putWords(samples);
  const to = kernels.room(Math.ceil((w * h) / 2));
  kernels.run.halveWide(from, width, height, to, SUM_BITS - finerBitsOf(bitDepth));
  return { width: w, height: h, samples: kernels.getWords(to, w * h) };
};
