import { quantile } from '../maths/robust.js';
import type { Plane } from '../picture/frame.js';
import { notMeasurable, type HarmFigure } from './figure.js';
import { framesWith, TILE_PX, tilesOf, type BeforeAfter, type Tile } from './pair.js';

/** Tiles whose frames differ this many times as much as the quietest show something that could shine through. */
const STANDS_OUT = 8;
/** The quietest tiles differ by noise alone. */
const QUIET = 0.15;
const LEAST_TILES = 6;

/** What one tile tells: products of what the repair changed with how another frame differs, and of that with itself. */
interface Told {
  readonly tile: Tile;
  readonly frame: number;
  readonly cross: number;
  readonly power: number;
}

/**
 * How much of another frame shows through, %: the regression of what the repair changed on how the other frame differs
 * where it differs, less what noise alone makes of it; the largest over the frames of the window.
 */
export const ghosting = (pair: BeforeAfter): HarmFigure => {
  const { before, after, window } = pair;
  if (window === 0) return { value: 0, tiles: 0, frames: after.size, worst: null };
  let worst: HarmFigure | null = null;
  // What shines through comes from the frames next to it, or from the ends of the window.
  for (const k of new Set([1, window]))
    for (const offset of [k, -k]) {
      const frames = framesWith(pair, (f) => [f + offset]);
      const told = frames.flatMap(({ frame, other }) =>
        tilesOf(before.sequence.pictures[frame].planes[0]).map((tile) => ({
          tile,
          frame,
          ...products(
            before.sequence.pictures[frame].planes[0],
            after.get(frame)!.planes[0],
            before.sequence.pictures[other].planes[0],
            tile,
          ),
        })),
      );
      const found = throughOf(told, before.sequence.firstFrame, frames.length);
      if (found && (worst === null || found.value > (worst.value ?? 0))) worst = found;
    }
  return worst ?? notMeasurable('Neighbouring frames hardly differ: nothing could shine through.');
};

const throughOf = (
  told: readonly Told[],
  firstFrame: number,
  frames: number,
): Extract<HarmFigure, { value: number }> | null => {
  if (told.length === 0) return null;
  const quietest = quantile(
    told.map((t) => t.power),
    QUIET,
  );
  const quiet = told.filter((t) => t.power <= quietest);
  const mean = (of: (t: Told) => number): number => quiet.reduce((s, t) => s + of(t), 0) / quiet.length;
  const [noiseCross, noisePower] = [mean((t) => t.cross), mean((t) => t.power)];
  const telling = told.filter((t) => t.power > STANDS_OUT * noisePower);
  if (telling.length < LEAST_TILES) return null;
  const share = (tiles: readonly Told[]): number =>
    tiles.reduce((s, t) => s + t.cross - noiseCross, 0) / tiles.reduce((s, t) => s + t.power - noisePower, 0);
  const { tile, frame } = telling.reduce((a, b) => (b.cross / b.power > a.cross / a.power ? b : a));
  return {
    value: 100 * Math.max(0, share(telling)),
    tiles: telling.length,
    frames,
    worst: { x: tile.x + TILE_PX / 2, y: tile.y + TILE_PX / 2, frame: firstFrame + frame },
  };
};

/** Over means of 3×3, in which noise counts a ninth. */
const products = (
  before: Plane,
  after: Plane,
  other: Plane,
  { x, y }: Tile,
): { cross: number; power: number } => {
  const { width } = before;
  let [cross, power] = [0, 0];
  for (let v = 1; v < TILE_PX - 1; v += 3)
    for (let u = 1; u < TILE_PX - 1; u += 3) {
      let [changed, differs] = [0, 0];
      for (let j = -1; j <= 1; j++)
        for (let i = (y + v + j) * width + x + u - 1, end = i + 3; i < end; i++) {
          changed += after.samples[i] - before.samples[i];
          differs += other.samples[i] - before.samples[i];
        }
      cross += changed * differs;
      power += differs * differs;
    }
  return { cross, power };
};
