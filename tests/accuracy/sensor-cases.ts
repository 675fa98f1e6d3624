import type { Measurement } from '@bevrin/contract';
import { scatterFaults, type StudyClip } from '@bevrin/rig';
import { FULL_RANGE, TEN_BIT, type AccuracyCase } from './check.js';
import { judging } from './seeds.js';
import { placesFound, shareNear, type Place } from './places.js';
import { shownFaults } from './shown-faults.js';

const FAULTS = 24;
const [WIDTH, HEIGHT] = [560, 316];

const faulty = (
  name: string,
  clip: Partial<StudyClip> & Pick<StudyClip, 'study' | 'seed'>,
  level?: number,
  known?: string,
): AccuracyCase => {
  const faults = scatterFaults(FAULTS, WIDTH, HEIGHT, clip.seed, level);
  const score = (reading: string, of: (found: readonly Place[]) => number) => ({
    reading,
    truth: 1,
    unit: '',
    bar: 0.1,
    goal: 0.01,
    from: (m: Measurement) => placesFound(m, of),
  });
  const drawn: StudyClip = {
    width: WIDTH,
    height: HEIGHT,
    frames: 24,
    codec: 'h264Lossless',
    faults,
    ...clip,
    seed: judging(clip.seed),
  };
  return {
    measure: 'hotPixels',
    name,
    clip: drawn,
    checks: async () => {
      const shown = await shownFaults(drawn, faults);
      return [
        { ...score('recall', (found) => shareNear(shown, found)), known },
        score('precision', (found) => shareNear(found, faults)),
      ];
    },
  };
};

/** A sensor of one colour a site, held by hand. */
const MOSAIC_BY_HAND = {
  camera: { handPx: 2.5 },
  noisePct: [0.6, 0.6, 0.6],
  faultsInMosaic: true,
} as const satisfies Partial<StudyClip>;

const clean = (name: string, clip: Partial<StudyClip> & Pick<StudyClip, 'study' | 'seed'>): AccuracyCase => ({
  measure: 'hotPixels',
  name,
  clip: {
    width: WIDTH,
    height: HEIGHT,
    frames: 24,
    codec: 'h264Lossless',
    ...clip,
    seed: judging(clip.seed),
  },
  checks: () => [{ reading: 'hotPixels.count', truth: 0, unit: '', bar: 0, goal: 0 }],
});

/** Faults of the sensor by recall and precision; and pictures that have none. */
export const SENSOR_CASES: readonly AccuracyCase[] = [
  faulty('hand-held foliage', { study: 'foliage', seed: 51, camera: { handPx: 3 }, noisePct: [1, 1, 1] }),
  faulty('panned wall, 10 bits', {
    ...TEN_BIT,
    study: 'wall',
    seed: 52,
    camera: { panPx: 50 },
    noisePct: [0.8, 0.8, 0.8],
  }),
  faulty('wall by hand, full range', {
    ...FULL_RANGE,
    study: 'wall',
    seed: 973,
    camera: { handPx: 2.5 },
    noisePct: [0.8, 0.8, 0.8],
  }),
  faulty('a noisy night', { study: 'night', seed: 53, camera: { handPx: 2 }, noisePct: [1.5, 1.5, 1.5] }),
  faulty(
    'locked-off wall',
    { study: 'wall', seed: 54, noisePct: [1, 1, 1] },
    undefined,
    'faint dots of one colour cannot be told from a scene that is held',
  ),
  faulty(
    'foliage, a camera codec',
    { codec: 'h264', study: 'foliage', seed: 55, camera: { handPx: 2 }, noisePct: [0.8, 0.8, 0.8] },
    0.75,
    'the codec took faint dots of one colour away, or left blots of them',
  ),
  faulty(
    'through a mosaic, by hand, a camera codec',
    {
      codec: 'h264',
      study: 'wall',
      seed: 67,
      ...MOSAIC_BY_HAND,
    },
    0.6,
  ),
  faulty(
    'through a mosaic, by hand, with half of the colour',
    {
      codec: 'prores',
      study: 'foliage',
      seed: 74,
      ...MOSAIC_BY_HAND,
    },
    0.6,
  ),
  clean('brick, lettering, wires and tape, held, none', {
    study: 'bricks',
    seed: 68,
    codec: 'h264',
    noisePct: [0.5, 0.5, 0.5],
  }),
  clean('brick and lettering by hand, none', {
    study: 'bricks',
    seed: 69,
    codec: 'h264',
    camera: { handPx: 2 },
    noisePct: [0.5, 0.5, 0.5],
  }),
  clean('foliage by hand, none', {
    study: 'foliage',
    seed: 61,
    camera: { handPx: 3, handDeg: 0.2 },
    noisePct: [1, 1, 1],
  }),
  clean('locked-off noisy wall, none', { study: 'wall', seed: 62, noisePct: [1, 1, 1] }),
  clean('locked-off wall under bars of light, none', {
    study: 'wall',
    seed: 63,
    noisePct: [0.7, 0.7, 0.7],
    light: { pulseHz: 120, depth: 0.12 },
    shutter: 0.1,
    readout: 0.7,
  }),
  clean('a sensor with a fixed pattern, none', {
    study: 'wall',
    seed: 65,
    camera: { panPx: 60 },
    noisePct: [1, 1, 1],
    fixedPatternPct: 0.5,
  }),
  clean('a held picture without noise, none', { study: 'foliage', seed: 66 }),
  clean('lamps at night that move with the scene, none', {
    study: 'night',
    seed: 64,
    camera: { handPx: 2 },
    noisePct: [2, 2, 2],
  }),
];
