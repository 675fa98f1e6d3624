import type { Plane } from '../../picture/frame.js';
import { BLOCK, MARGIN, type FlatBlock } from './pair.js';

/** As far as this from where the camera puts a block it is looked for, pixels. */
const REACH = 24;
/** Of places that hold another piece of the same noise, none looks twice as much like a block as another: not one in a thousand. */
const CLOSER = 0.5;
/** The search compares every other sample of every other row. */
const COARSE = 2;

/** The top left corner of a part of a frame. */
interface Corner {
  readonly x: number;
  readonly y: number;
}

/**
 * Where a block of the first frame lies in the second if not where the camera puts it: on somebody who walks past. Whole
 * pixels; `ownWayOf` takes out what is left over. About 400 000 operations.
 * @returns `null` where nothing within reach looks twice as much like it as what the camera puts there: then noise differs
 */
export const elsewhere = (first: Plane, second: Plane, block: FlatBlock): FlatBlock | null => {
  const put = {
    x: Math.round(block.toX + block.fractionX),
    y: Math.round(block.toY + block.fractionY),
  };
  const light = 1 / block.gains[BLOCK >> 1];
  const [left, right] = within(put.x, second.width);
  const [top, bottom] = within(put.y, second.height);
  let best = put;
  let least = Infinity;
  for (let y = top; y <= bottom; y++)
    for (let x = left; x <= right; x++) {
      const unlike = unlikeness(first, block, second, { x, y, light }, COARSE);
      if (unlike < least) [least, best] = [unlike, { x, y }];
    }
  const [there, here] = [best, put].map((at) => unlikeness(first, block, second, { ...at, light }, 1));
  return there < CLOSER * here ? { ...block, toX: best.x, toY: best.y, fractionX: 0, fractionY: 0 } : null;
};

/** From where to where a block is looked for along one side of a frame. */
const within = (put: number, side: number): readonly [number, number] => [
  Math.max(MARGIN, put - REACH),
  Math.min(side - BLOCK - MARGIN, put + REACH),
];

/** Variance of the difference of a block from a part of another frame. @param at where that lies, and what its light is weighed by */
const unlikeness = (
  { width, samples }: Plane,
  block: Corner,
  second: Plane,
  at: Corner & { readonly light: number },
  step: number,
): number => {
  let [sum, squares] = [0, 0];
  for (let r = 0; r < BLOCK; r += step)
    for (let c = 0; c < BLOCK; c += step) {
      const d =
        samples[(block.y + r) * width + block.x + c] -
        at.light * second.samples[(at.y + r) * second.width + at.x + c];
      sum += d;
      squares += d * d;
    }
  const n = (BLOCK / step) ** 2;
  return squares / n - (sum / n) ** 2;
};
