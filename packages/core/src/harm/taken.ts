import type { Plane } from '../picture/frame.js';
import { notMeasurable, type HarmFigure } from './figure.js';
import {
  cut,
  cutMoved,
  movedTile,
  pairsApart,
  TILE_PX,
  tilesOf,
  type BeforeAfter,
  type Field,
} from './pair.js';

/** What was taken away is nothing where it is less than this, codes (RMS): rounding alone makes 0.3. */
const LEAST_TAKEN = 0.35;
const LEAST_TILES = 6;

/** What a repair took away: the original less the repaired frame. */
const takenAway = ({ width, height, samples }: Plane, after: Plane): Field => {
  const taken = Float32Array.from(samples);
  for (let i = 0; i < taken.length; i++) taken[i] -= after.samples[i];
  return { width, height, samples: taken };
};

/**
 * Share of what was taken away that is picture, %: what repeats along the movement between frames whose repairs shared no
 * frame is picture, noise does not repeat.
 */
export const takenStructure = (pair: BeforeAfter): HarmFigure => {
  const { before, after } = pair;
  const frames = pairsApart(pair);
  if (frames.length === 0) return notMeasurable('No two repaired frames lie far enough apart.');
  const [one, other] = [new Float64Array(TILE_PX * TILE_PX), new Float64Array(TILE_PX * TILE_PX)];
  let [cross, own, its, tiles] = [0, 0, 0, 0];
  let worst: { x: number; y: number; frame: number; share: number } | null = null;
  for (const { frame, other: second } of frames) {
    const [here, there] = [frame, second].map((f) =>
      takenAway(before.sequence.pictures[f].planes[0], after.get(f)!.planes[0]),
    );
    for (const tile of tilesOf(here)) {
      const at = movedTile(before, frame, second, tile);
      if (!cutMoved(there, at.x, at.y, other)) continue;
      const sums = products(cut(here, tile, one), other);
      cross += sums.cross;
      own += sums.own;
      its += sums.its;
      tiles++;
      const share = sums.cross / Math.sqrt(sums.own * sums.its + 1e-9);
      if (Math.sqrt(sums.own) >= LEAST_TAKEN && share > (worst?.share ?? 0))
        worst = {
          x: tile.x + TILE_PX / 2,
          y: tile.y + TILE_PX / 2,
          frame: before.sequence.firstFrame + frame,
          share,
        };
    }
  }
  if (tiles < LEAST_TILES) return notMeasurable('Too little of the picture is seen in both frames.');
  const nothing = Math.sqrt(own / tiles) < LEAST_TAKEN;
  return {
    value: nothing ? 0 : 100 * Math.max(0, Math.min(1, cross / Math.sqrt(own * its))),
    tiles,
    frames: frames.length,
    worst: nothing || !worst ? null : { x: worst.x, y: worst.y, frame: worst.frame },
  };
};

/** Mean products of two tiles, each free of its mean. */
const products = (a: Float64Array, b: Float64Array): { cross: number; own: number; its: number } => {
  const n = a.length;
  let [ma, mb, ab, aa, bb] = [0, 0, 0, 0, 0];
  for (let i = 0; i < n; i++) {
    const p = a[i];
    const q = b[i];
    ma += p;
    mb += q;
    ab += p * q;
    aa += p * p;
    bb += q * q;
  }
  ma /= n;
  mb /= n;
  // What was taken is a few codes about nothing: no digits are lost.
  return { cross: ab / n - ma * mb, own: aa / n - ma * ma, its: bb / n - mb * mb };
};
