import { constantOf } from '../kernels/kernels.js';
import { solveSymmetric } from '../maths/solve.js';
import { bothWays } from '../motion/camera.js';
import { followTiles, TILE, type TileMotions } from '../motion/tiles.js';
import { STILL } from '../motion/similarity.js';
import { smallScale } from '../picture/signal.js';
import { asLevel, smoothed, type Level } from '../picture/pyramid.js';
import { notMeasurable, type HarmFigure } from './figure.js';
import { framesWith, type BeforeAfter } from './pair.js';

const LEAST_TILES = 12;
/** A tile must know both directions: the smaller eigenvalue of what it knows, 0–1. */
const LEAST_BOTH_WAYS = 0.08;
/** From here on a tile counts in full. */
const SURE = 0.3;
/** A tile whose levels change by less from pixel to pixel, RMS as a share of the range, has no line that could bend. */
const LEAST_GRADIENT = 0.003;
/** A tile that lies this many times the usual off the fit is not followed, it is lost. */
const LOST = 5;

/** Bending of what was straight: RMS and worst displacement, luma pixels, less the best similarity transform. */
export interface BendHarm {
  readonly rms: HarmFigure;
  readonly worst: HarmFigure;
}

/** Follows the tiles of each original frame into the repaired one. */
export const bending = (pair: BeforeAfter): BendHarm => {
  const { before, after } = pair;
  const scale = 2 ** (16 - before.sequence.clip.bitDepth);
  const { black, span } = smallScale(before.sequence.clip);
  let [squares, weights, tiles, most] = [0, 0, 0, 0];
  let worst: { x: number; y: number; frame: number } | null = null;
  const frames = framesWith(pair, (f) => [f]);
  for (const { frame } of frames) {
    const [a, b] = [before.sequence.pictures[frame], after.get(frame)!].map((p) =>
      scaled(smoothed(asLevel(p.planes[0])), scale),
    );
    const found = followTiles(a, b, STILL, null, black, 'first');
    const off = offSimilarity(found, (tile) => isTextured(a, found, tile, LEAST_GRADIENT * span));
    if (!off) continue;
    off.forEach(({ tile, distance }) => {
      const weight = weightOf(found, tile);
      squares += weight * (distance * distance - noiseOf(found, tile));
      weights += weight;
      tiles++;
      if (distance <= most) return;
      most = distance;
      worst = {
        x: found.x[tile] + a.width / 2,
        y: found.y[tile] + a.height / 2,
        frame: before.sequence.firstFrame + frame,
      };
    });
  }
  if (tiles < LEAST_TILES) {
    const none = notMeasurable('Too little of the picture can be followed into the repaired one.');
    return { rms: none, worst: none };
  }
  const evidence = { tiles, frames: frames.length, worst };
  return {
    rms: { value: Math.sqrt(Math.max(0, squares) / weights), ...evidence },
    worst: { value: most, ...evidence },
  };
};

/** Whether the levels about a tile change enough from pixel to pixel. */
const isTextured = (
  { width, height, samples }: Level,
  tiles: TileMotions,
  tile: number,
  least: number,
): boolean => {
  const [left, top] = [
    Math.round(tiles.x[tile] + (width - TILE) / 2),
    Math.round(tiles.y[tile] + (height - TILE) / 2),
  ];
  let [squares, count] = [0, 0];
  for (let y = Math.max(0, top); y < Math.min(height - 1, top + TILE); y++)
    for (let x = Math.max(0, left); x < Math.min(width - 1, left + TILE); x++, count++) {
      const i = y * width + x;
      squares += (samples[i + 1] - samples[i]) ** 2 + (samples[i + width] - samples[i]) ** 2;
    }
  return squares >= count * least * least;
};

const scaled = ({ width, height, samples }: Level, k: number): Level => ({
  width,
  height,
  samples: k === 1 ? samples : samples.map((v) => v * k),
});

/** A tile, and how far it lies from where the fit puts it, pixels. */
interface Off {
  readonly tile: number;
  readonly rx: number;
  readonly ry: number;
  readonly distance: number;
}

/** How unsure a tile is whose weight is half, pixels. */
const UNSURE = constantOf('SURE');

/** How much a tile counts: one that knows one direction alone lies anywhere along the other. */
const weightOf = (tiles: TileMotions, tile: number): number => Math.min(1, bothWays(tiles, tile) / SURE);

/**
 * Variance of a tile's displacement, both directions together, pixels²: what its own differences leave unexplained, by the
 * bound of Cramér and Rao. The normal matrix is scaled by how sure it is: see motion/tile.ts.
 */
const noiseOf = (tiles: TileMotions, tile: number): number => {
  const least = bothWays(tiles, tile);
  const most = Math.min(1, tiles.xx[tile] + tiles.yy[tile] - least);
  return UNSURE * UNSURE * (1 / most - 1) * (1 + most / least);
};

/** How far each tile lies from where the similarity transform that fits all of them best puts it. */
const offSimilarity = (tiles: TileMotions, counts: (tile: number) => boolean): Off[] | null => {
  let used = Array.from({ length: tiles.count }, (_, i) => i).filter(
    (i) => tiles.found[i] === 1 && bothWays(tiles, i) >= LEAST_BOTH_WAYS && counts(i),
  );
  for (let pass = 0; ; pass++) {
    if (used.length < LEAST_TILES) return null;
    const fit = similarityOf(tiles, used);
    if (!fit) return null;
    const [dx, dy, zoom, turn] = fit;
    const off = used.map((tile): Off => {
      const rx = tiles.dx[tile] - dx - zoom * tiles.x[tile] + turn * tiles.y[tile];
      const ry = tiles.dy[tile] - dy - turn * tiles.x[tile] - zoom * tiles.y[tile];
      return { tile, rx, ry, distance: Math.hypot(rx, ry) };
    });
    const usual = Math.sqrt(off.reduce((s, o) => s + o.distance ** 2, 0) / off.length);
    const kept = off.filter((o) => o.distance <= LOST * usual + 1e-9);
    if (kept.length === off.length || pass === 2) return kept;
    used = kept.map((o) => o.tile);
  }
};

const similarityOf = (tiles: TileMotions, used: readonly number[]): Float64Array | null => {
  const [normal, right] = [new Float64Array(16), new Float64Array(4)];
  for (const i of used) {
    const weight = weightOf(tiles, i);
    for (const [row, value] of [
      [[1, 0, tiles.x[i], -tiles.y[i]], tiles.dx[i]],
      [[0, 1, tiles.y[i], tiles.x[i]], tiles.dy[i]],
    ] as const)
      for (let a = 0; a < 4; a++) {
        right[a] += weight * row[a] * value;
        for (let b = 0; b <= a; b++) normal[a * 4 + b] += weight * row[a] * row[b];
      }
  }
  return solveSymmetric(normal, right);
};
