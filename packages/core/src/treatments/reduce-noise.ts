import type { Measurement, Step } from '#document';
import type { ClipFacts } from '#terms';
import type { Plane } from '../picture/frame.js';
import { planeScale } from '../picture/signal.js';
import { Averager } from './average.js';
import { byChannel, bySize, keepDetail, type Taken } from './noise-shares.js';
import type { Runner } from './runner.js';
import { blankLike, copyOf } from './sequence.js';
import { numberOf, type SettingSchemas } from './settings.js';
import { viewedThrough } from './viewed.js';

/** A strength is a difference up to which something is taken for noise: so many standard deviations of it. */
const LUMA_SIGMAS = 3;
const CHROMA_SIGMAS = 4;
/** What a transform over space takes of noise where there is nothing but noise: a strength of this is all of it. */
const SPATIAL_TAKES = 0.75;
const MOST_FRAMES = 9;

const BEFORE = 'before the viewing transform';
const AFTER = 'after the viewing transform';
const percent = (otherwise: number) =>
  ({ kind: 'number', unit: '%', least: 0, most: 100, step: 5, otherwise }) as const;

const SETTINGS = {
  framesEachSide: { kind: 'number', unit: 'frames', least: 0, most: MOST_FRAMES, step: 1, otherwise: 2 },
  lumaStrengthPct: { kind: 'number', unit: '%', least: 0, most: 40, step: 0.1, otherwise: 3 },
  chromaStrengthPct: { kind: 'number', unit: '%', least: 0, most: 60, step: 0.1, otherwise: 4 },
  spatialStrengthPct: { kind: 'number', unit: '%', least: 0, most: 75, step: 1, otherwise: 0 },
  /** How much of the detail that would go with it must stay. */
  keepDetailPct: percent(0),
  /** How much of what is taken from each channel is taken. */
  redPct: percent(100),
  greenPct: percent(100),
  bluePct: percent(100),
  /** How much of each size of what is taken is taken: about 1 px, about 2 px, 4 px and more. */
  finePct: percent(100),
  mediumPct: percent(100),
  coarsePct: percent(100),
  originalBackPct: percent(0),
  /** Where it stands: the strengths are then those of the picture as it is stored, or as it is viewed. */
  work: { kind: 'choice', options: [BEFORE, AFTER], otherwise: BEFORE },
  worstChannel: { kind: 'choice', options: ['luma', 'red', 'green', 'blue'], otherwise: 'luma' },
} as const satisfies SettingSchemas;

/** Noise is averaged over time along the movement, and what is left over space. */
export const reduceNoise: Runner = {
  treatment: 'reduceNoise',
  settings: SETTINGS,
  swept: 'framesEachSide',
  sweepAbout: (value) =>
    [
      ...new Set(
        [1, 2, value, value + 1, value + 3].map((v) => Math.max(1, Math.min(MOST_FRAMES, Math.round(v)))),
      ),
    ].sort((a, b) => a - b),
  neighbours: (settings) => numberOf(settings, 'framesEachSide'),
  begin: (study, settings, measurement, viewing) => {
    const { clip, pictures } = study.sequence;
    const isRgb = clip.matrix === 'rgb';
    const viewed = viewing && settings.work === AFTER ? viewedThrough(viewing, clip) : null;
    const shown = new Map<number, Float32Array>();
    // A frame is looked at by all of its neighbours, one after the other.
    const samplesOf = (index: number, p: number): ArrayLike<number> => {
      const plane = pictures[index].planes[p];
      if (!viewed || p > 0) return plane.samples;
      const known = shown.get(index) ?? viewed.shown(plane);
      shown.set(index, known);
      return known;
    };
    const averager = new Averager(study, samplesOf);
    const spatial = Math.min(1, numberOf(settings, 'spatialStrengthPct') / 100 / SPATIAL_TAKES);
    const framesEachSide = numberOf(settings, 'framesEachSide');
    const share = sharesOf(settings);
    const sigmaOf = (p: number): number => strengthOf(settings, p === 0 || isRgb) * planeScale(clip, p).span;
    const averagedPlane = (plane: Plane, index: number, p: number): Plane => {
      const sigma = sigmaOf(p);
      if (sigma === 0) return copyOf(plane);
      const averaged = averager.average(index, p, { framesEachSide, sigma, spatial });
      return mixed(plane, averaged, share.originalBack, planeScale(clip, p).top);
    };
    return {
      treat: (index) => {
        for (const known of shown.keys()) if (Math.abs(known - index) > framesEachSide) shown.delete(known);
        const { planes } = pictures[index];
        if (!viewed && share.whole)
          return { planes: planes.map((plane, p) => averagedPlane(plane, index, p)) };
        const taken = planes.map((plane, p): Taken => {
          const sigma = sigmaOf(p);
          const { width, height, samples } = plane;
          if (sigma === 0) return { width, height, samples: new Float32Array(samples.length) };
          const averaged = averager.average(index, p, { framesEachSide, sigma, spatial });
          const from = samplesOf(index, p);
          for (let i = 0; i < averaged.length; i++) averaged[i] = from[i] - averaged[i];
          const of: Taken = { width, height, samples: averaged };
          keepDetail(of, Math.min(sigma, measuredSigma(measurement, clip, p)), share.keepDetail);
          bySize(of, share);
          if (viewed && p === 0) viewed.stored(averaged, plane);
          return of;
        });
        byChannel(taken, clip, share);
        return {
          planes: planes.map((plane, p) =>
            without(plane, taken[p].samples, 1 - share.originalBack, planeScale(clip, p).top),
          ),
        };
      },
    };
  },
};

/** Noise of a plane as it was measured, codes: a strength may be set far beyond it. */
const measuredSigma = (measurement: Measurement | null, clip: ClipFacts, p: number): number => {
  const noise = measurement?.readings.noise;
  if (noise?.state !== 'measured') return Infinity;
  const { lumaPct, cbPct, crPct, redPct, greenPct, bluePct } = noise.values;
  const own = clip.matrix === 'rgb' ? [greenPct, bluePct, redPct][p] : [lumaPct, cbPct, crPct][p];
  return ((own ?? lumaPct) / 100) * planeScale(clip, p).span;
};

/** Standard deviation that a strength takes for noise, share of the range. */
const strengthOf = (settings: Step['settings'], isLuma: boolean): number =>
  isLuma
    ? numberOf(settings, 'lumaStrengthPct') / LUMA_SIGMAS / 100
    : numberOf(settings, 'chromaStrengthPct') / CHROMA_SIGMAS / 100;

const sharesOf = (settings: Step['settings']) => {
  const share = (name: keyof typeof SETTINGS): number => numberOf(settings, name) / 100;
  const parts = {
    red: share('redPct'),
    green: share('greenPct'),
    blue: share('bluePct'),
    fine: share('finePct'),
    medium: share('mediumPct'),
    coarse: share('coarsePct'),
  };
  const keepDetail = share('keepDetailPct');
  // Nearly always all of it is taken: then nothing needs to be parted.
  const whole = keepDetail === 0 && Object.values(parts).every((part) => part === 1);
  return { ...parts, keepDetail, whole, originalBack: share('originalBackPct') };
};

/** The averaged plane in whole codes, with a share of the original mixed back in. About six operations a sample. */
const mixed = (plane: Plane, averaged: Float32Array, back: number, top: number): Plane => {
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

/** A plane without a share of what was taken from it, in whole codes. About six operations a sample. */
const without = (plane: Plane, taken: Float32Array, share: number, top: number): Plane => {
  const out = blankLike(plane);
  const from = plane.samples;
  const to = out.samples;
  for (let i = 0; i < taken.length; i++) {
    const value = from[i] - share * taken[i] + 0.5;
    // Rounded to the nearest: what is below nothing is cut off.
    to[i] = value < 0 ? 0 : value > top ? top : value | 0;
  }
  return out;
};
