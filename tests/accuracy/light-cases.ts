import { exposedLight, studyRecipe, type StudyClip } from '@bevrin/rig';
import { checkOf, FULL_RANGE, TEN_BIT, type AccuracyCase, type Check } from './check.js';
import type { Measurement, ValuesOf } from '@bevrin/contract';
import { judging } from './seeds.js';

type FlickerChange = ValuesOf<'flicker'>['exposureChanges'][number];

/** Depth that a delivery lets pass: what stands still must read less. */
const STEADY_PCT = 0.8;

/** What is left of a lamp's swing after an exposure, %. */
const exposedDepthPct = (clip: StudyClip): number => {
  const { light, shutter } = studyRecipe({ ...clip, width: 16, height: 16 });
  const seconds = shutter / 25;
  const seen = Array.from({ length: 4000 }, (_, i) => exposedLight(light, i / 7919, seconds));
  return (100 * (Math.max(...seen) - Math.min(...seen))) / 2;
};

/** RMS of the light itself, % of its mean. */
const rmsPct = (clip: StudyClip): number => {
  const { light } = studyRecipe({ ...clip, width: 16, height: 16 });
  const levels = Array.from({ length: clip.frames }, (_, f) => light(f / 25));
  const mean = levels.reduce((s, v) => s + v, 0) / levels.length;
  return 100 * Math.sqrt(levels.reduce((s, v) => s + (v / mean - 1) ** 2, 0) / levels.length);
};

const pattern = (truth: string): Check => ({ reading: 'flicker.pattern', truth, unit: '', bar: 0, goal: 0 });

const lit = (
  name: string,
  clip: Partial<StudyClip> & Pick<StudyClip, 'study' | 'seed'>,
  checks: (clip: StudyClip) => readonly Check[],
): AccuracyCase => {
  const whole: StudyClip = {
    width: 400,
    height: 226,
    frames: 66,
    noisePct: [0.7, 0.7, 0.7],
    codec: 'h264Lossless',
    camera: { handPx: 2 },
    ...clip,
    seed: judging(clip.seed),
  };
  return { measure: 'flicker', name, clip: whole, checks: () => checks(whole) };
};

const swings =
  (hz: number, how: 'whole-frame' | 'rolling-bars', bars?: number) =>
  (clip: StudyClip): Check[] => [
    pattern(how),
    checkOf('flicker', 'depthPct', exposedDepthPct(clip)),
    checkOf('flicker', 'frequencyHz', hz),
    ...(bars === undefined ? [] : [checkOf('flicker', 'barsPerFrame', bars)]),
  ];

const steady = (): Check[] => [
  { reading: 'flicker.depthPct', truth: 0, unit: '%', bar: STEADY_PCT, goal: STEADY_PCT / 2 },
];

const told = (reading: string, truth: number, bar: number, from: Check['from']): Check => ({
  reading,
  truth,
  unit: '',
  bar,
  goal: bar / 2,
  from,
});
const changesTold = (count: number): Check =>
  told('flicker changes', count, 0, ({ readings: { flicker } }) =>
    flicker.state === 'measured' ? flicker.values.exposureChanges.length : null,
  );

/** Light that changes once and stays: told by where and how much, and never a flicker. */
const changes = (frame: number, pct: number) => (): Check[] => {
  const first: (m: Measurement) => FlickerChange | null = ({ readings: { flicker } }) =>
    flicker.state === 'measured' ? (flicker.values.exposureChanges[0] ?? null) : null;
  return [
    pattern('none'),
    checkOf('flicker', 'exposureChangePct', Math.abs(pct)),
    told('flicker first change, frame', frame, 4, (m) => first(m)?.frame ?? null),
    changesTold(1),
  ];
};

/** Light that swings, in the whole frame, in bars or without a rhythm; and what only looks like it. */
export const LIGHT_CASES: readonly AccuracyCase[] = [
  lit(
    'slow pump, hand-held wall',
    { study: 'wall', seed: 31, light: { pulseHz: 3.3, depth: 0.06 } },
    swings(3.3, 'whole-frame'),
  ),
  lit(
    'strong pump, foliage, 10 bits',
    { ...TEN_BIT, study: 'foliage', seed: 32, light: { pulseHz: 6.1, depth: 0.2 }, shutter: 0.2 },
    swings(6.1, 'whole-frame'),
  ),
  lit(
    'pump, foliage, full range',
    { ...FULL_RANGE, study: 'foliage', seed: 972, light: { pulseHz: 4.7, depth: 0.05 } },
    swings(4.7, 'whole-frame'),
  ),
  lit(
    'bars of 120 Hz lamps, foliage',
    { study: 'foliage', seed: 33, light: { pulseHz: 120, depth: 0.12 }, shutter: 0.1, readout: 0.7 },
    swings(5, 'rolling-bars', 3.36),
  ),
  lit(
    'bars, locked-off wall, 10 bits',
    {
      ...TEN_BIT,
      study: 'wall',
      seed: 34,
      camera: {},
      light: { pulseHz: 97, depth: 0.08 },
      shutter: 0.1,
      readout: 0.5,
    },
    swings(3, 'rolling-bars', 1.94),
  ),
  lit(
    'pump, night and noise, a camera codec',
    {
      study: 'night',
      seed: 43,
      codec: 'h264',
      noisePct: [2, 2, 2],
      light: { pulseHz: 8.7, depth: 0.1 },
      shutter: 0.2,
    },
    swings(8.7, 'whole-frame'),
  ),
  lit(
    'pump while somebody walks through',
    { study: 'wall', seed: 44, light: { pulseHz: 4.4, depth: 0.05 }, subject: { tall: 1.2, pxPerSec: 200 } },
    swings(4.4, 'whole-frame'),
  ),
  lit('jumps without a rhythm', { study: 'wall', seed: 35, light: { unsteady: 0.04 } }, (clip) => [
    pattern('irregular'),
    checkOf('flicker', 'rmsPct', rmsPct(clip)),
    checkOf('flicker', 'depthPct', Math.SQRT2 * rmsPct(clip)),
  ]),
  lit('hand-held foliage', { study: 'foliage', seed: 36, camera: { handPx: 3, handDeg: 0.2 } }, steady),
  lit(
    'somebody large walks through',
    { study: 'wall', seed: 37, subject: { tall: 1.2, pxPerSec: 240 } },
    steady,
  ),
  lit('a fade to black', { study: 'wall', seed: 38, light: { fadeFromSec: 1.5, fadeToSec: 2.5 } }, steady),
  lit('a flash', { study: 'wall', seed: 39, light: { flashAtSec: 1.4 } }, steady),
  lit('a pan', { study: 'wall', seed: 40, camera: { panPx: 60 } }, steady),
  lit(
    'a step of the exposure, by hand',
    { study: 'foliage', seed: 45, light: { changeFromSec: 1.2, changeToSec: 1.2, changeTo: 1.35 } },
    changes(30, 35),
  ),
  lit(
    'a ramp of the exposure, held, a camera codec',
    {
      study: 'wall',
      seed: 46,
      codec: 'h264',
      camera: {},
      light: { changeFromSec: 1, changeToSec: 1.7, changeTo: 0.6 },
    },
    changes(26, -40),
  ),
  lit(
    'a dissolve',
    {
      study: 'wall',
      seed: 47,
      camera: { handPx: 1.5 },
      cutTo: { study: 'foliage', atFrame: 34, dissolve: 14 },
    },
    () => [...steady(), changesTold(0)],
  ),
  lit('a cut', { study: 'wall', seed: 41, cutTo: { study: 'night', atFrame: 40 } }, steady),
];
