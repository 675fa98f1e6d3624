import { madSigma, mean, quantile } from '../maths/robust.js';
import { notMeasurable, type HarmFigure } from './figure.js';
import {
  cut,
  cutMoved,
  movedTile,
  pairsApart,
  TILE_PX,
  tilesOf,
  type BeforeAfter,
  type Tile,
} from './pair.js';

/** Levels into which tiles are sorted, and how many of a kind tell. */
const LEVELS = 3;
const LEAST_OF_A_KIND = 4;
/** Grain below this, codes (RMS), cannot be told from rounding. */
const LEAST_GRAIN = 0.4;

interface Grain {
  readonly tile: Tile;
  readonly frame: number;
  readonly level: number;
  readonly texture: number;
  readonly before: number;
  readonly after: number;
}

/**
 * Whether what is left of the grain is alike everywhere, 0–1: deviation left over deviation before, by level and between
 * flat and finely textured surroundings, the smallest over the largest. Grain is what changes between registered frames
 * whose repairs share none.
 */
export const grainEvenness = (pair: BeforeAfter): HarmFigure => {
  const { before, after } = pair;
  const frames = pairsApart(pair);
  if (frames.length === 0) return notMeasurable('One repaired frame alone does not tell grain.');
  const buffers = Array.from({ length: 4 }, () => new Float64Array(TILE_PX * TILE_PX));
  const grains: Grain[] = [];
  for (const { frame, other } of frames) {
    const [o, p] = [frame, other].map((f) => before.sequence.pictures[f].planes[0]);
    const [r, s] = [frame, other].map((f) => after.get(f)!.planes[0]);
    for (const tile of tilesOf(o)) {
      const at = movedTile(before, frame, other, tile);
      if (!cutMoved(p, at.x, at.y, buffers[1]) || !cutMoved(s, at.x, at.y, buffers[3])) continue;
      const [was, is] = [cut(o, tile, buffers[0]), cut(r, tile, buffers[2])];
      grains.push({
        tile,
        frame,
        ...levelOf(was),
        before: apartOf(was, buffers[1]),
        after: apartOf(is, buffers[3]),
      });
    }
  }
  const told = grains.filter((g) => g.before > LEAST_GRAIN);
  const kinds = kindsOf(told);
  if (kinds.length < 2)
    return notMeasurable('There is too little grain, or it is of one kind of surroundings.');
  const ratios = kinds.map((kind) =>
    quantile(
      kind.map((g) => g.after / g.before),
      0.5,
    ),
  );
  const least = kinds[ratios.indexOf(Math.min(...ratios))];
  const { tile, frame } = least.reduce((a, b) => (b.after / b.before < a.after / a.before ? b : a));
  return {
    value: Math.min(...ratios) / Math.max(1e-6, ...ratios),
    tiles: told.length,
    frames: frames.length,
    worst: {
      x: tile.x + TILE_PX / 2,
      y: tile.y + TILE_PX / 2,
      frame: before.sequence.firstFrame + frame,
    },
  };
};

/** Tiles by level, and by whether their surroundings are flat or finely textured. */
const kindsOf = (grains: readonly Grain[]): Grain[][] => {
  if (grains.length === 0) return [];
  const levels = grains.map((g) => g.level);
  const limits = Array.from({ length: LEVELS - 1 }, (_, k) => quantile(levels, (k + 1) / LEVELS));
  const middle = quantile(
    grains.map((g) => g.texture),
    0.5,
  );
  const kinds = new Map<string, Grain[]>();
  for (const grain of grains) {
    const level = limits.filter((limit) => grain.level > limit).length;
    const key = `${level},${grain.texture > middle}`;
    kinds.set(key, [...(kinds.get(key) ?? []), grain]);
  }
  return [...kinds.values()].filter((kind) => kind.length >= LEAST_OF_A_KIND);
};

const levelOf = (samples: Float64Array): { level: number; texture: number } => {
  let [sum, rough] = [0, 0];
  for (let i = 0; i < samples.length; i++) {
    sum += samples[i];
    if (i % TILE_PX) rough += Math.abs(samples[i] - samples[i - 1]);
  }
  return { level: sum / samples.length, texture: rough / samples.length };
};

/** Robust deviation of the difference of two tiles. */
const apartOf = (a: Float64Array, b: Float64Array): number => {
  const apart = a.map((v, i) => v - b[i]);
  return madSigma(apart, mean(apart));
};
