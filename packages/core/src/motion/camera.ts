import { ENOUGH } from '../maths/enough.js';
import { constantOf, kernels } from '../kernels/kernels.js';
import { median, TUKEY } from '../maths/robust.js';
import { solveSymmetric } from '../maths/solve.js';
import {
  bandBefore,
  bandMiddle,
  BENDS_PX,
  distance,
  ROW_BANDS,
  solve,
  STIFF,
  type Fit,
} from './camera-fit.js';
import { AT_ONE, SETTLED, type Similarity } from './similarity.js';
import { AT_THE_EDGE, LEAD } from './votes.js';
import type { TileMotions } from './tiles.js';

/** A place in a picture, pixels about its middle. */
export interface Place {
  readonly x: number;
  readonly y: number;
}

/** How the camera moved between two pictures, in pixels of them. */
export interface CameraMotion {
  readonly motion: Similarity;
  /** Displacement of each row band once turn and zoom are taken out: x and y in turn, `NaN` where none is known. */
  readonly bands: Float64Array;
  /** How much is known of each of them, in sharp tiles. */
  readonly known: Float64Array;
  /** Share of the textured picture that goes another way, 0–1. */
  readonly otherwise: number;
  /** Share of the tiles that follow the camera, 0–1. */
  readonly following: number;
  /** What the tiles count together that lie just where it puts them. */
  readonly backing: number;
  /** 1 for each tile that does not follow the camera. */
  readonly outliers: Uint8Array;
  /** Standard error of the motion across and down, pixels: how far tiles lie off it, over what all of them know. */
  readonly error: { readonly x: number; readonly y: number };
}

/** What the tiles of a band must know together, in sharp tiles, to speak for it; to bend the path through the bands; and at most. */
export const LEAST_KNOWN = 0.5;
const WELL_KNOWN = 2;
const MOST_KNOWN = 12;
const PASSES = 6;
/**
 * A tile this far off, pixels, and this many sigmas, goes its own way; no farther may one lie off and still count for the camera,
 * and in the first passes: close from the start on, so
 * that no limb that turns pulls the fit along itself; and wide, narrower from pass to pass, for rows that lean.
 */
const OUTLIER_PX = 0.45;
const OUTLIER_SIGMAS = 5;
const CLOSE = [0.5, 0.5, 0.5];
const WIDE = [1.2, 0.7, 0.5];
/** A tile nearer than this to where a fit puts it, pixels, backs it, the more the nearer. */
const JUST_THERE = 0.3;
/** Motions that are tried for the start. */
const CANDIDATES = 48;
/** Where fewer of the tiles than this follow, a wider fit and a start that leans are tried. */
const FEW_FOLLOW = 0.85;
const STRIPES_SPEAK = 0.04;
/** What went its own way a frame ago counts this much less, this far about, pixels. */
const OUTLIERS_COUNT = 0.3;
const OUTLIERS_STAY = 16;

/**
 * Fits the motion of the camera to tile displacements: starts where most tiles agree, then iterates weighted least
 * squares (Tukey's biweight). Turn and zoom come from what changes along the rows alone, where the read-out of the
 * sensor plays no part; each row band keeps a displacement of its own.
 * @param first the guess that the tiles were looked for about
 * @param height of the picture, pixels
 * @param outliersBefore what did not follow the camera a frame ago
 * @returns `null` where too few tiles agree
 */
export const cameraMotion = (
  tiles: TileMotions,
  first: Similarity,
  width: number,
  height: number,
  outliersBefore: readonly Place[] = [],
): CameraMotion | null => {
  const found: number[] = [];
  for (let i = 0; i < tiles.count; i++) if (tiles.found[i]) found.push(i);
  if (found.length < ENOUGH) return null;
  const ground: Ground = {
    tiles,
    found,
    width,
    height,
    trusted: trustedTiles(tiles, outliersBefore),
    side: Math.max(width, height) / 2,
    rowOf: tiles.y.map((y) => (y / height + 0.5) * ROW_BANDS - 0.5),
  };
  const begun = fromSimilarity(agreed(ground, first), ground);
  let settled = settle(ground, begun, true, CLOSE);
  if (settled.staying < FEW_FOLLOW * found.length) {
    const leant = leaning(ground, first);
    for (const other of [settle(ground, begun, true, WIDE), leant && settle(ground, leant, false, WIDE)])
      if (other && other.backing > LEAD * settled.backing) settled = other;
  }
  const { fit, outliers, staying, backing } = settled;
  if (staying < ENOUGH) return null;
  const { known, error } = knowledgeOf(ground, settled);
  return {
    ...result(fit, known, height, ground.side),
    otherwise: (found.length - staying) / found.length,
    following: staying / found.length,
    backing,
    outliers,
    error,
  };
};

/** The tiles that were found, and what they are set against. */
interface Ground {
  readonly tiles: TileMotions;
  readonly found: readonly number[];
  /** Of the picture, pixels. */
  readonly width: number;
  readonly height: number;
  /** How much each tile counts for a motion. */
  readonly trusted: Float64Array;
  /** Half of the longer side, pixels. */
  readonly side: number;
  /** Where each tile lies among the middles of the bands: 0 in that of the first. */
  readonly rowOf: Float64Array;
}

/**
 * A fit that moves no more: what each tile counts, the mean square by which they lie off it, which go another way, and what
 * those count together that lie just where it puts them: those of a limb that turns lie about it, and no nearer.
 */
interface Settled {
  readonly fit: Fit;
  readonly weights: Float64Array;
  readonly variance: number;
  readonly outliers: Uint8Array;
  readonly staying: number;
  readonly backing: number;
}

/**
 * @param rigid whether all bands go alike in the first pass
 * @param narrowing how far off a tile may lie in the first passes, pixels
 */
const settle = (
  { tiles, found, trusted, side, rowOf }: Ground,
  start: Fit,
  rigid: boolean,
  narrowing: readonly number[],
): Settled => {
  const off = new Float64Array(tiles.count);
  const weights = new Float64Array(tiles.count);
  const near = new Float64Array(found.length);
  let fit = start;
  let reach = narrowing[0];
  let variance = 0;
  for (let pass = 0; pass < PASSES; pass++) {
    let power = 0;
    let weight = 1e-9;
    let counted = 0;
    for (const i of found) {
      const far = distance(tiles, i, fit, rowOf[i], side);
      const u = far / reach;
      off[i] = far;
      weights[i] = u < 1 ? (1 - u * u) ** 2 : 0;
      if (weights[i] > 0) near[counted++] = far;
      power += weights[i] * far * far;
      weight += weights[i];
    }
    variance = power / weight;
    const stiff = pass < narrowing.length ? STIFF : variance / (BENDS_PX * BENDS_PX);
    const next = solve(tiles, found, weights, rowOf, side, rigid && pass === 0, stiff);
    if (!next) break;
    const change = Math.abs(next.bandX[4] - fit.bandX[4]) + Math.abs(next.bandY[4] - fit.bandY[4]);
    fit = next;
    if (pass >= narrowing.length && change < SETTLED) break;
    const typical = median(near.subarray(0, counted));
    reach = Math.max(AT_ONE, Math.min(narrowing[pass] ?? OUTLIER_PX, TUKEY * 1.2 * typical));
  }
  const outliers = new Uint8Array(tiles.count);
  const outlierPx = Math.max(OUTLIER_PX, (OUTLIER_SIGMAS / TUKEY) * reach);
  let backing = 0;
  for (const i of found) {
    const far = distance(tiles, i, fit, rowOf[i], side);
    if (far > outlierPx) outliers[i] = 1;
    backing += trusted[i] * Math.max(0, 1 - far / JUST_THERE);
  }
  const staying = found.reduce((n, i) => n + 1 - outliers[i], 0);
  return { fit, weights, variance, outliers, staying, backing };
};

/** What the tiles know of each band, and the standard error of all of them together. */
const knowledgeOf = (
  { tiles, found, rowOf }: Ground,
  { weights, variance }: Settled,
): Pick<CameraMotion, 'known' | 'error'> => {
  const known = new Float64Array(2 * ROW_BANDS);
  let [across, down] = [0, 0];
  for (const i of found) {
    const b = bandBefore(rowOf[i]);
    const t = Math.max(0, Math.min(1, rowOf[i] - b));
    known[2 * b] += (1 - t) * weights[i] * tiles.xx[i];
    known[2 * b + 1] += (1 - t) * weights[i] * tiles.yy[i];
    known[2 * b + 2] += t * weights[i] * tiles.xx[i];
    known[2 * b + 3] += t * weights[i] * tiles.yy[i];
    across += weights[i] * tiles.xx[i];
    down += weights[i] * tiles.yy[i];
  }
  const errorOver = (all: number): number => Math.sqrt(variance / Math.max(1e-9, all));
  return { known, error: { x: errorOver(across), y: errorOver(down) } };
};

const fromSimilarity = (m: Similarity, { side, height }: Ground): Fit => ({
  zoom: m.zoom * side,
  turn: m.turn * side,
  bandX: Float64Array.from({ length: ROW_BANDS }, (_, b) => m.dx - m.turn * bandMiddle(b, height)),
  bandY: Float64Array.from({ length: ROW_BANDS }, (_, b) => m.dy + m.zoom * bandMiddle(b, height)),
});

/**
 * How much each tile counts for a motion: one of stripes, which agrees with many, less than one that knows both
 * directions; and one where something went its own way a frame ago less, for it is likely to do so again.
 */
const trustedTiles = (tiles: TileMotions, outliersBefore: readonly Place[]): Float64Array => {
  const trusted = new Float64Array(tiles.count);
  for (let i = 0; i < tiles.count; i++) {
    const own = STRIPES_SPEAK + (1 - STRIPES_SPEAK) * Math.min(1, 3 * bothWays(tiles, i));
    const sure = Math.min(1, tiles.xx[i] + tiles.yy[i]);
    trusted[i] = own * sure * (isNearAny(outliersBefore, tiles.x[i], tiles.y[i]) ? OUTLIERS_COUNT : 1);
  }
  return trusted;
};

const isNearAny = (places: readonly Place[], x: number, y: number): boolean => {
  for (const place of places)
    if (Math.abs(place.x - x) < OUTLIERS_STAY && Math.abs(place.y - y) < OUTLIERS_STAY) return true;
  return false;
};

/** How well a tile knows the direction it knows least, 0–1. */
export const bothWays = ({ xx, xy, yy }: TileMotions, i: number): number => {
  const half = (xx[i] - yy[i]) / 2;
  return (xx[i] + yy[i]) / 2 - Math.sqrt(half * half + xy[i] * xy[i]);
};

/**
 * The translation that most tiles support, with the turn and zoom of the guess or with none: where two things move, a guess
 * that lies between them has a turn and a zoom that belong to neither.
 */
const agreed = (ground: Ground, first: Similarity): Similarity => {
  const guessed = mostBacked(ground, first);
  const plain = mostBacked(ground, { ...first, zoom: 0, turn: 0 });
  return plain.support > guessed.support ? plain : guessed;
};

/**
 * A start that leans: what most tiles of the upper half back, and of the lower. A sensor that reads row by row while the camera
 * is torn aside puts its last rows pixels away from its first.
 * @returns `null` where one of the halves has too few tiles
 */
const leaning = (ground: Ground, first: Similarity): Fit | null => {
  const { tiles, found, height } = ground;
  const halves = [found.filter((i) => tiles.y[i] < 0), found.filter((i) => tiles.y[i] >= 0)];
  if (halves.some((half) => half.length < ENOUGH)) return null;
  const [upper, lower] = halves.map((half) =>
    mostBacked({ ...ground, found: half }, { ...first, zoom: 0, turn: 0 }),
  );
  // The middles of the halves lie half of the height apart.
  const along = (a: number, b: number): Float64Array =>
    Float64Array.from(
      { length: ROW_BANDS },
      (_, band) => (a + b) / 2 + 2 * (b - a) * (bandMiddle(band, height) / height),
    );
  return { zoom: 0, turn: 0, bandX: along(upper.dx, lower.dx), bandY: along(upper.dy, lower.dy) };
};

const mostBacked = (
  { tiles, found, width, height, trusted }: Ground,
  first: Similarity,
): Similarity & { support: number } => {
  const n = found.length;
  const votes = new Float64Array(VOTE * n);
  for (let k = 0, o = 0; k < n; k++, o += VOTE) {
    const i = found[k];
    const atTheEdge = Math.abs(tiles.x[i]) > 0.36 * width || Math.abs(tiles.y[i]) > 0.36 * height;
    votes[o] = tiles.dx[i] - first.zoom * tiles.x[i] + first.turn * tiles.y[i];
    votes[o + 1] = tiles.dy[i] - first.turn * tiles.x[i] - first.zoom * tiles.y[i];
    votes[o + 2] = tiles.xx[i];
    votes[o + 3] = 2 * tiles.xy[i];
    votes[o + 4] = tiles.yy[i];
    votes[o + 5] = atTheEdge ? AT_THE_EDGE * trusted[i] : trusted[i];
  }
  kernels.reserve(2 * votes.length, 1);
  const at = kernels.putDoubles(votes);
  const supportOf = (dx: number, dy: number): number =>
    kernels.run.supportOf(at, n, dx, dy, JUST_THERE * JUST_THERE);
  let best = { dx: first.dx, dy: first.dy, support: LEAD * supportOf(first.dx, first.dy) };
  const step = Math.max(1, Math.floor(n / CANDIDATES));
  for (let k = 0; k < n; k += step) {
    // Only tiles that know both directions can speak for a motion.
    if (bothWays(tiles, found[k]) < 0.05) continue;
    const [dx, dy] = [votes[VOTE * k], votes[VOTE * k + 1]];
    const support = supportOf(dx, dy);
    if (support > best.support) best = { dx, dy, support };
  }
  return { ...best, zoom: first.zoom, turn: first.turn };
};

/** Numbers of a tile's vote: where it went, x and y; how well it knows that, in x, across twice and in y; what it counts. */
const VOTE = constantOf('VOTE');

/** Takes turn and zoom out of the bands, and reads the motion of the picture's centre off them. */
const result = (
  fit: Fit,
  known: Float64Array,
  height: number,
  side: number,
): Pick<CameraMotion, 'motion' | 'bands' | 'known'> => {
  const [zoom, turn] = [fit.zoom / side, fit.turn / side];
  const bands = new Float64Array(2 * ROW_BANDS).fill(NaN);
  for (let b = 0; b < ROW_BANDS; b++) {
    if (known[2 * b] >= LEAST_KNOWN) bands[2 * b] = fit.bandX[b] + turn * bandMiddle(b, height);
    if (known[2 * b + 1] >= LEAST_KNOWN) bands[2 * b + 1] = fit.bandY[b] - zoom * bandMiddle(b, height);
  }
  return {
    motion: { dx: centre(bands, known, 0), dy: centre(bands, known, 1), zoom, turn },
    bands,
    known,
  };
};

/** Value at the middle row of a parabola through the bands, weighted by what is known of each; a line or a mean where few are known. */
const centre = (bands: Float64Array, known: Float64Array, axis: number): number => {
  let seen = 0;
  for (let b = 0; b < ROW_BANDS; b++) if (known[2 * b + axis] >= WELL_KNOWN) seen++;
  const n = seen >= 7 ? 3 : seen >= 4 ? 2 : 1;
  const h = new Float64Array(n * n);
  const g = new Float64Array(n);
  for (let b = 0; b < ROW_BANDS; b++) {
    const value = bands[2 * b + axis];
    if (Number.isNaN(value)) continue;
    const v = (b + 0.5) / ROW_BANDS - 0.5;
    const w = Math.min(MOST_KNOWN, known[2 * b + axis]);
    for (let r = 0; r < n; r++) {
      g[r] += w * v ** r * value;
      for (let c = 0; c <= r; c++) h[r * n + c] += w * v ** (r + c);
    }
  }
  return solveSymmetric(h, g)?.[0] ?? NaN;
};
