import { kernels } from '../kernels/kernels.js';
import { cameraBetween } from '../motion/between.js';
import type { Similarity } from '../motion/similarity.js';
import { followerOf, TILE } from '../motion/tiles.js';
import { halve, type Level } from '../picture/pyramid.js';
import { lumaScale } from '../picture/signal.js';
import { LightCode } from './light-code.js';
import type { Sequence } from './sequence.js';

/** Side of a block that has one motion, luma pixels. */
export const BLOCK_PX = 16;
/** Blocks are followed at half the size: noise is halved, and half the samples are left. */
const HALF = 2;
/** A block's own motion is believed where its neighbours go the same way, within this, luma pixels. */
const ALIKE_PX = 1.2;

/** Where the blocks of one frame lie in another. Luma pixels, row by row. */
export interface BlockMotion {
  readonly columns: number;
  readonly rows: number;
  readonly dx: Float32Array;
  readonly dy: Float32Array;
  /** How the camera moved, luma pixels. */
  readonly camera: Similarity;
  /** Whether the camera could be followed. */
  readonly sure: boolean;
}

/** What treatments find out about the frames that they work on; worked out once, for every setting that is tried. */
export class Study {
  private readonly halves = new Map<number, Level>();
  private readonly motions = new Map<string, BlockMotion>();
  private lightCode: LightCode | null = null;

  constructor(readonly sequence: Sequence) {}

  get count(): number {
    return this.sequence.pictures.length;
  }

  /** What light its codes stand for. */
  get light(): LightCode {
    return (this.lightCode ??= new LightCode(this.sequence.clip));
  }

  /** Luma at half its size. */
  half(index: number): Level {
    const known = this.halves.get(index);
    if (known) return known;
    const level = halve(this.sequence.pictures[index].planes[0]);
    this.halves.set(index, level);
    return level;
  }

  /** Where the blocks of a frame lie in another. */
  motion(from: number, to: number): BlockMotion {
    const key = `${from},${to}`;
    const known = this.motions.get(key);
    if (known) return known;
    const found = blockMotion(this.half(from), this.half(to), lumaScale(this.sequence.clip).black);
    this.motions.set(key, found);
    return found;
  }
}

/**
 * Follows the blocks of a picture into another one: about where the camera puts them, each by inverse compositional
 * alignment, then averaged with those neighbours that go the same way.
 * @param a, b luma at half its size
 */
const blockMotion = (a: Level, b: Level, black: number): BlockMotion => {
  const { motion, sure } = cameraBetween(a, b);
  const block = BLOCK_PX / HALF;
  const [columns, rows] = [Math.ceil(a.width / block), Math.ceil(a.height / block)];
  const count = columns * rows;
  const [ownX, ownY, known] = [new Float32Array(count), new Float32Array(count), new Float32Array(count)];
  const [cx, cy] = [(a.width - 1) / 2, (a.height - 1) / 2];
  kernels.reserve(a.samples.length + b.samples.length, 2);
  const between = [kernels.put(a.samples), kernels.put(b.samples)] as const;
  // By the first picture's slopes: what is not plain goes with the camera.
  const { follow, result } = followerOf(a, between, black, 'first');
  const [cameraX, cameraY] = [new Float32Array(count), new Float32Array(count)];
  for (let row = 0, k = 0; row < rows; row++)
    for (let column = 0; column < columns; column++, k++) {
      const [x, y] = [(column + 0.5) * block - 0.5 - cx, (row + 0.5) * block - 0.5 - cy];
      cameraX[k] = motion.dx + motion.zoom * x - motion.turn * y;
      cameraY[k] = motion.dy + motion.turn * x + motion.zoom * y;
      const left = Math.max(1, Math.min(a.width - TILE - 1, Math.round(x + cx - TILE / 2 + 0.5)));
      const top = Math.max(1, Math.min(a.height - TILE - 1, Math.round(y + cy - TILE / 2 + 0.5)));
      if (!follow(left, top, cameraX[k], cameraY[k])) continue;
      ownX[k] = result(0) - cameraX[k];
      ownY[k] = result(1) - cameraY[k];
      known[k] = result(2) + result(4);
    }
  const [dx, dy] = [new Float32Array(count), new Float32Array(count)];
  for (let row = 0, k = 0; row < rows; row++)
    for (let column = 0; column < columns; column++, k++) {
      // A block that nothing is known of goes with the camera; one that is known goes with those about it.
      let [sumX, sumY, sum] = [0, 0, known[k] > 0 ? 0 : 1e-3];
      for (let v = Math.max(0, row - 1); v <= Math.min(rows - 1, row + 1); v++)
        for (let u = Math.max(0, column - 1); u <= Math.min(columns - 1, column + 1); u++) {
          const o = v * columns + u;
          const apart = Math.abs(ownX[o] - ownX[k]) + Math.abs(ownY[o] - ownY[k]);
          if (known[o] === 0 || HALF * apart > ALIKE_PX) continue;
          sumX += known[o] * ownX[o];
          sumY += known[o] * ownY[o];
          sum += known[o];
        }
      dx[k] = HALF * (cameraX[k] + (sum > 0 ? sumX / sum : 0));
      dy[k] = HALF * (cameraY[k] + (sum > 0 ? sumY / sum : 0));
    }
  const camera = { ...motion, dx: HALF * motion.dx, dy: HALF * motion.dy };
  return { columns, rows, dx, dy, camera, sure };
};
