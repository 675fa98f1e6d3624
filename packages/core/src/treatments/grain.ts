import type { Plane } from '../picture/frame.js';
import { planeScale } from '../picture/signal.js';
import { blurred } from './blur.js';
import { hashed } from './hash.js';
import type { Runner } from './runner.js';
import { codeOf, copyOf, subsampling } from './sequence.js';
import { numberOf, rowsOf } from './settings.js';

/** Grain finer than this is that of single samples. */
const SINGLE_PX = 0.25;
/** Values that a sum of so many even random numbers takes are as good as normal ones (their variance is a twelfth each). */
const SUMMED = 4;
const PRIMES = [7919, 104729, 1299709] as const;

/**
 * Grain is brought back: as much as was measured at each level, as coarse as it was, a share of it, new in every frame. It
 * lies over what was smoothed and over what was not alike.
 */
export const grain: Runner = {
  treatment: 'grain',
  settings: {
    sharePct: { kind: 'number', unit: '%', least: 0, most: 100, step: 1, otherwise: 20 },
    lumaPct: { kind: 'number', unit: '%', least: 0, most: 20, step: 0.05, otherwise: 1 },
    chromaPct: { kind: 'number', unit: '%', least: 0, most: 20, step: 0.05, otherwise: 0 },
    sizePx: { kind: 'number', unit: 'px', least: 0, most: 6, step: 0.1, otherwise: 0 },
    /** How much of luma's noise there was at each level, %; the same everywhere where none is named. */
    byLevel: { kind: 'rows', columns: ['levelPct', 'sigmaPct'] },
  },
  swept: 'sharePct',
  sweepAbout: (value) =>
    [...new Set([0, 0.5, 1, 1.5, 2.5].map((k) => Math.min(100, Math.round(k * value))))].sort(
      (a, b) => a - b,
    ),
  follows: ['reduceNoise'],
  neighbours: () => 0,
  begin: (study, settings) => {
    const { clip, firstFrame, pictures } = study.sequence;
    const isRgb = clip.matrix === 'rgb';
    const share = numberOf(settings, 'sharePct') / 100;
    const luma = numberOf(settings, 'lumaPct') / 100;
    const chroma = numberOf(settings, 'chromaPct') / 100;
    const byLevel = byLevelOf(rowsOf(settings, 'byLevel'), luma);
    return {
      treat: (index) => ({
        planes: pictures[index].planes.map((plane, p) => {
          const isLuma = p === 0 || isRgb;
          if (share === 0 || (isLuma ? luma : chroma) === 0) return copyOf(plane);
          const { black, span, top } = planeScale(clip, p);
          const size = numberOf(settings, 'sizePx') / subsampling(pictures[index], p).kx;
          const drawn = drawnGrain(plane, size, PRIMES[p] * (firstFrame + index + 1));
          const out = copyOf(plane);
          for (let i = 0; i < drawn.length; i++) {
            const sigma = isLuma ? byLevel((plane.samples[i] - black) / span) : chroma;
            out.samples[i] = codeOf(plane.samples[i] + share * sigma * span * drawn[i], top);
          }
          return out;
        }),
      }),
    };
  },
};

/** Noise against level, shares of the range: straight between the levels that are known, level beyond them. */
const byLevelOf = (rows: readonly (readonly number[])[], otherwise: number): ((level: number) => number) => {
  if (rows.length === 0) return () => otherwise;
  const known = [...rows].sort((a, b) => a[0] - b[0]);
  const table = Float32Array.from({ length: 257 }, (_, i) => {
    const level = (100 * i) / 256;
    const after = known.findIndex(([at]) => at >= level);
    if (after === 0) return known[0][1] / 100;
    if (after < 0) return known[known.length - 1][1] / 100;
    const [[x0, y0], [x1, y1]] = [known[after - 1], known[after]];
    return (y0 + ((y1 - y0) * (level - x0)) / Math.max(1e-9, x1 - x0)) / 100;
  });
  return (level) => table[Math.max(0, Math.min(256, Math.round(256 * level)))];
};

/** Normal noise of deviation 1 as coarse as a Gaussian of `size` samples makes it. */
const drawnGrain = ({ width, height }: Plane, size: number, seed: number): Float32Array => {
  const out = new Float32Array(width * height);
  const scale = Math.sqrt(12 / SUMMED);
  for (let i = 0; i < out.length; i++) {
    let sum = 0;
    for (let k = 0; k < SUMMED; k++) sum += hashed(SUMMED * i + k + Math.imul(seed, 2654435761));
    out[i] = scale * (sum - SUMMED / 2);
  }
  if (size < SINGLE_PX) return out;
  const soft = blurred({ width, height, samples: out }, size);
  let squares = 0;
  for (const v of soft) squares += v * v;
  const back = 1 / Math.sqrt(squares / soft.length);
  for (let i = 0; i < soft.length; i++) soft[i] *= back;
  return soft;
};
