import type { Plane } from '../picture/frame.js';
import { planeScale } from '../picture/signal.js';
import { Averager } from './average.js';
import type { Runner } from './runner.js';
import { blankLike, copyOf } from './sequence.js';
import { numberOf } from './settings.js';

/** A strength is a difference up to which something is taken for noise: so many standard deviations of it. */
const LUMA_SIGMAS = 3;
const CHROMA_SIGMAS = 4;
/** What a transform over space takes of noise where there is nothing but noise: a strength of this is all of it. */
const SPATIAL_TAKES = 0.75;
const MOST_FRAMES = 9;

/** Noise is averaged over time along the movement, and what is left over space; a little of its own grain comes back. */
export const reduceNoise: Runner = {
  treatment: 'reduceNoise',
  settings: {
    framesEachSide: { kind: 'number', unit: 'frames', least: 0, most: MOST_FRAMES, step: 1, otherwise: 2 },
    lumaStrengthPct: { kind: 'number', unit: '%', least: 0, most: 40, step: 0.1, otherwise: 3 },
    chromaStrengthPct: { kind: 'number', unit: '%', least: 0, most: 60, step: 0.1, otherwise: 4 },
    spatialStrengthPct: { kind: 'number', unit: '%', least: 0, most: 75, step: 1, otherwise: 0 },
    grainBackPct: { kind: 'number', unit: '%', least: 0, most: 2, step: 0.05, otherwise: 0 },
    originalBackPct: { kind: 'number', unit: '%', least: 0, most: 100, step: 5, otherwise: 0 },
    worstChannel: { kind: 'choice', options: ['luma', 'red', 'green', 'blue'], otherwise: 'luma' },
  },
  swept: 'framesEachSide',
  sweepAbout: (value) =>
    [
      ...new Set(
        [1, 2, value, value + 1, value + 3].map((v) => Math.max(1, Math.min(MOST_FRAMES, Math.round(v)))),
      ),
    ].sort((a, b) => a - b),
  neighbours: (settings) => numberOf(settings, 'framesEachSide'),
  begin: (study, settings) => {
    const averager = new Averager(study);
    const { clip } = study.sequence;
    const isRgb = clip.matrix === 'rgb';
    const framesEachSide = numberOf(settings, 'framesEachSide');
    const spatial = Math.min(1, numberOf(settings, 'spatialStrengthPct') / 100 / SPATIAL_TAKES);
    const original = numberOf(settings, 'originalBackPct') / 100;
    return {
      treat: (index) => ({
        planes: study.sequence.pictures[index].planes.map((plane, p) => {
          const isLuma = p === 0 || isRgb;
          const { span, top } = planeScale(clip, p);
          const strength = numberOf(settings, isLuma ? 'lumaStrengthPct' : 'chromaStrengthPct');
          const sigma = (strength / (isLuma ? LUMA_SIGMAS : CHROMA_SIGMAS) / 100) * span;
          if (sigma === 0) return copyOf(plane);
          const averaged = averager.average(index, p, { framesEachSide, sigma, spatial });
          const grain = isLuma ? (numberOf(settings, 'grainBackPct') / 100) * span : 0;
          return written(plane, averaged, Math.max(original, grainShare(plane, averaged, grain)), top);
        }),
      }),
    };
  },
};

/** Share of what was taken away that brings back grain of a standard deviation, codes. */
const grainShare = ({ samples }: Plane, averaged: Float32Array, grain: number): number => {
  if (grain === 0) return 0;
  let [squares, count] = [0, 0];
  for (let i = 0; i < samples.length; i += 7, count++) squares += (samples[i] - averaged[i]) ** 2;
  const taken = Math.sqrt(squares / Math.max(1, count));
  return taken > 0 ? Math.min(1, grain / taken) : 0;
};

/** The averaged plane in whole codes, with a share of what was taken away. About six operations a sample. */
const written = (plane: Plane, averaged: Float32Array, back: number, top: number): Plane => {
  const out = blankLike(plane);
  const from = plane.samples;
  const to = out.samples;
  for (let i = 0; i < averaged.length; i++) {
    const value = averaged[i] + back * (from[i] - averaged[i]) + 0.5;
    // Rounded to the nearest: what is below nothing is cut off.
    to[i] = value < 0 ? 0 : value > top ? top : value | 0;
  }
  return out;
};
