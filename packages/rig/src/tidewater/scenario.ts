import type { Codec, Storage } from '@bevrin/media';
import { both, fading, pulsing, steady, unsteady } from '../camera/light.js';
import { handHeld, jolts, lockedOff, panning, together, zooming } from '../camera/path.js';
import { cleanSensor } from '../camera/sensor.js';
import type { ClipRecipe } from '../recipe.js';
import type { RenderTruth } from '../render.js';
import { scatterFaults } from '../study-clip.js';
import {
  awning,
  brickAndCloth,
  carriage,
  cutting,
  engineShed,
  frost,
  halt,
  lastLight,
  leverClose,
  mudflats,
  passingTrain,
  signalBox,
} from './places.js';

/** One true figure of a clip: what was put in, and the reading that must find it. */
export interface Truth {
  readonly what: string;
  readonly reading: string;
  readonly value: number;
  readonly unit: string;
}

export interface ScenarioClip {
  readonly name: string;
  readonly codec: Codec;
  readonly storage?: Storage;
  readonly recipe: () => ClipRecipe;
  readonly truth: (rendered: RenderTruth) => Truth[];
}

export const PRODUCTION = 'The Tidewater Line';
export const BATCH = 'Episode 2, camera originals';

const WIDTH = 1280;
const HEIGHT = 720;
const common = {
  width: WIDTH,
  height: HEIGHT,
  frames: 100,
  frameRate: '25/1',
  shutter: 0.5,
  readout: 0,
  light: steady,
  lensSigmaPx: 0.6,
  format: { bitDepth: 8, chroma: '420' },
} as const;
/** What every real sensor has; far below any limit. */
const quiet = { ...cleanSensor, noisePct: [0.35, 0.3, 0.4] as const };
const one = (
  scene: ClipRecipe['shots'][number]['scene'],
  camera: ClipRecipe['shots'][number]['camera'],
): ClipRecipe['shots'] => [{ startFrame: 0, scene, camera }];
const lumaNoise = ({ noisePct }: RenderTruth): Truth => ({
  what: 'luma noise',
  reading: 'noise.lumaPct',
  value: noisePct.luma,
  unit: '%',
});
const round = (v: number): number => Math.round(v * 1000) / 1000;

const LAMP_HZ = 100;
const LAMP_DEPTH = 0.16;
const LAMP_RATE = 24;
const LAMP_SHUTTER = 0.12;
/** The exposure averages the lamp: what is left of its swing. */
const exposedDepth = (): number => {
  const x = (Math.PI * LAMP_HZ * LAMP_SHUTTER) / LAMP_RATE;
  return LAMP_DEPTH * Math.abs(Math.sin(x) / x);
};
/** Root mean square of the picture's displacement about its mean, % of the width. */
const jitterPct = ({ poses }: RenderTruth, width: number, panPerFrame = 0): number => {
  const about = (v: number[]): number => {
    const mean = v.reduce((a, b) => a + b, 0) / v.length;
    return v.reduce((sum, p) => sum + (p - mean) ** 2, 0) / v.length;
  };
  const power = about(poses.map((p, f) => p.x - panPerFrame * f)) + about(poses.map((p) => p.y));
  return round((100 * Math.sqrt(power)) / width);
};
const none = (what: string, reading: string, unit = ''): Truth => ({ what, reading, value: 0, unit });
/** What a clean clip must not be found to have. */
const nothingWrong: readonly Truth[] = [
  none('swing of the light', 'flicker.depthPct', '%'),
  none('faults of the sensor', 'hotPixels.count', 'places'),
  none('banding', 'banding.index'),
  none('moiré', 'moire.index'),
];
const SPOTS = [
  { x: 380, y: 210, radiusPx: 17, density: 0.16 },
  { x: 905, y: 150, radiusPx: 24, density: 0.12 },
];
const DIRT = Array.from({ length: 60 }, (_, i) => ({
  frame: 3 + i * 3,
  x: 60 + ((i * 397) % (WIDTH - 120)),
  y: 60 + ((i * 233) % (HEIGHT - 120)),
  radiusPx: 4 + (i % 4),
  level: i % 3 === 0 ? 0.75 : 0.02,
}));
const BLOWN_UP = { width: 640, height: 360 };
const UHD = { width: 3840, height: 2160 };
const SOFT = { from: 40, to: 62 };

const faults = scatterFaults(18, WIDTH, HEIGHT, 605, 0.4);

/** The Tidewater Line: volunteers rebuild a narrow-gauge railway across a tidal salt marsh. All of it is drawn. */
export const TIDEWATER: readonly ScenarioClip[] = [
  {
    name: 'TL2_014_engine_shed_lamps.mp4',
    codec: 'h264',
    recipe: () => ({
      ...common,
      frameRate: `${LAMP_RATE}/1`,
      shots: one(engineShed(WIDTH, HEIGHT), handHeld(1.6, 0.05, 601)),
      shutter: LAMP_SHUTTER,
      readout: 0.6,
      light: pulsing(LAMP_HZ, LAMP_DEPTH),
      sensor: quiet,
      seed: 601,
    }),
    truth: (r) => [
      {
        what: 'swing of the light',
        reading: 'flicker.depthPct',
        value: round(100 * exposedDepth()),
        unit: '%',
      },
      { what: 'beat with the lamps', reading: 'flicker.frequencyHz', value: 4, unit: 'Hz' },
      lumaNoise(r),
    ],
  },
  {
    name: 'TL2_031_signal_box_night.mov',
    codec: 'prores',
    recipe: () => ({
      ...common,
      shots: one(signalBox(WIDTH, HEIGHT), handHeld(2.2, 0.08, 602)),
      sensor: { ...cleanSensor, noisePct: [3.6, 3, 5.4], grainSigmaPx: 0.7, shadowLift: 0.3 },
      format: { bitDepth: 10, chroma: '422' },
      seed: 602,
    }),
    truth: (r) => [
      lumaNoise(r),
      { what: 'noise of the blue channel', reading: 'noise.bluePct', value: r.noisePct.blue, unit: '%' },
    ],
  },
  {
    name: 'TL2_047_mudflats_dusk.mp4',
    codec: 'hevc',
    recipe: () => ({
      ...common,
      shots: one(mudflats(WIDTH, HEIGHT), together(panning(26, 2), handHeld(1.2, 0.04, 603))),
      sensor: { ...quiet, faults },
      seed: 603,
    }),
    truth: (r) => [
      { what: 'faults of the sensor', reading: 'hotPixels.count', value: faults.length, unit: 'places' },
      lumaNoise(r),
    ],
  },
  {
    name: 'TL2_052_halt_morning.mp4',
    codec: 'h264',
    recipe: () => ({
      ...common,
      shots: one(halt(WIDTH, HEIGHT), handHeld(2.5, 0.08, 604)),
      sensor: quiet,
      seed: 604,
    }),
    truth: (r) => [
      lumaNoise(r),
      { what: 'swing of the light', reading: 'flicker.depthPct', value: 0, unit: '%' },
      { what: 'faults of the sensor', reading: 'hotPixels.count', value: 0, unit: 'places' },
    ],
  },
  {
    name: 'TL2_018_footplate_ride.mp4',
    codec: 'h264',
    recipe: () => ({
      ...common,
      shots: one(cutting(WIDTH, HEIGHT), together(handHeld(11, 0.35, 611), zooming(0.008))),
      readout: 0.7,
      shutter: 0.25,
      sensor: quiet,
      seed: 611,
    }),
    truth: (r) => [
      { what: 'shake', reading: 'shake.jitterPctWidth', value: jitterPct(r, WIDTH), unit: '%' },
      {
        what: 'read-out of the sensor, of the frame interval',
        reading: 'rollingShutter.readoutFraction',
        value: 0.7,
        unit: '',
      },
    ],
  },
  {
    name: 'TL2_023_carriage_seats.mov',
    codec: 'prores',
    recipe: () => ({
      ...common,
      shots: one(carriage(WIDTH, HEIGHT, 0.44), handHeld(1.8, 0.04, 612)),
      shutter: 0.2,
      aperture: 0.5,
      mosaic: true,
      lensSigmaPx: 0.4,
      sensor: quiet,
      format: { bitDepth: 10, chroma: '422' },
      seed: 612,
    }),
    truth: () => [{ what: 'seats with false colour', reading: 'moire.patternCount', value: 2, unit: '' }],
  },
  {
    name: 'TL2_049_last_light.mp4',
    codec: 'hevc',
    recipe: () => ({
      ...common,
      shots: one(lastLight(WIDTH, HEIGHT), lockedOff),
      sensor: { ...cleanSensor, noisePct: [0.05, 0.05, 0.05] },
      format: { bitDepth: 10, chroma: '420' },
      signalBits: 6,
      seed: 613,
    }),
    truth: () => [
      { what: 'step of 6 bits', reading: 'banding.stepPct', value: round(100 / 63), unit: '%' },
      none('shake', 'shake.jitterRmsPx', 'px'),
    ],
  },
  {
    name: 'TL2_064_halt_spot_on_lens.mov',
    codec: 'prores',
    recipe: () => ({
      ...common,
      shots: one(halt(WIDTH, HEIGHT), together(panning(30, 4), handHeld(0.8, 0.02, 614))),
      spots: SPOTS,
      sensor: quiet,
      format: { bitDepth: 10, chroma: '422' },
      seed: 614,
    }),
    truth: () => [
      { what: 'spots on the lens', reading: 'hotPixels.spotCount', value: SPOTS.length, unit: 'spots' },
    ],
  },
  {
    name: 'TL2_088_archive_reel.mpg',
    codec: 'mpeg2',
    storage: { interlaced: true },
    recipe: () => ({
      ...common,
      frameRate: '50/1',
      frames: 200,
      shots: one(mudflats(WIDTH, HEIGHT), handHeld(2.4, 0.05, 615)),
      light: both(pulsing(3.1, 0.05), unsteady(0.01, 25, 616)),
      specks: DIRT,
      lensSigmaPx: 1.1,
      sensor: { ...cleanSensor, noisePct: [2.4, 2.4, 2.6], grainSigmaPx: 0.9 },
      seed: 615,
    }),
    truth: () => [
      { what: 'film dirt, a frame', reading: 'hotPixels.specksPerFrame', value: 0.3, unit: '' },
      { what: 'pump of the light', reading: 'flicker.frequencyHz', value: 3.1, unit: 'Hz' },
    ],
  },
  {
    name: 'TL2_071_blown_up_insert.mov',
    codec: 'prores',
    storage: { enlargeTo: UHD },
    recipe: () => ({
      ...common,
      ...BLOWN_UP,
      shots: one(engineShed(BLOWN_UP.width, BLOWN_UP.height), handHeld(0.9, 0.03, 617)),
      sensor: quiet,
      format: { bitDepth: 10, chroma: '422' },
      seed: 617,
    }),
    truth: () => [
      {
        what: 'true size over delivered',
        reading: 'softness.effectiveScale',
        value: round(BLOWN_UP.width / UHD.width),
        unit: '',
      },
    ],
  },
  {
    name: 'TL2_055_causeway_drone.mkv',
    codec: 'h264',
    storage: { leaveOutEvery: 9 },
    recipe: () => ({
      ...common,
      frameRate: '30000/1001',
      frames: 126,
      shots: one(
        mudflats(WIDTH, HEIGHT),
        together(panning(18, 1), handHeld(1.2, 0.03, 618), jolts([1.01, 2.52, 3.53], 26, 0.1)),
      ),
      sensor: quiet,
      seed: 618,
    }),
    truth: () => [none('faults of the sensor', 'hotPixels.count', 'places')],
  },
  {
    name: 'TL2_041_shed_focus_slips.mp4',
    codec: 'h264',
    recipe: () => ({
      ...common,
      shots: one(engineShed(WIDTH, HEIGHT), handHeld(1.4, 0.04, 619)),
      lensSigmaPx: (frame) => (frame >= SOFT.from && frame <= SOFT.to ? 3.2 : 0.6),
      sensor: quiet,
      seed: 619,
    }),
    truth: (r) => [
      {
        what: 'frames out of focus',
        reading: 'softness.softFramesPct',
        value: round((100 * (SOFT.to - SOFT.from + 1)) / r.poses.length),
        unit: '%',
      },
    ],
  },
  {
    name: 'TL2_034_signal_box_lamps.mov',
    codec: 'prores',
    recipe: () => ({
      ...common,
      shots: one(signalBox(WIDTH, HEIGHT), handHeld(5, 0.1, 620)),
      light: pulsing(97, 0.12),
      shutter: 0.12,
      readout: 0.4,
      sensor: {
        ...cleanSensor,
        noisePct: [2.6, 2.2, 3.8],
        faults: scatterFaults(9, WIDTH, HEIGHT, 621, 0.5),
      },
      format: { bitDepth: 10, chroma: '422' },
      seed: 620,
    }),
    truth: (r) => [
      lumaNoise(r),
      { what: 'beat with the lamps', reading: 'flicker.frequencyHz', value: 3, unit: 'Hz' },
      { what: 'faults of the sensor', reading: 'hotPixels.count', value: 9, unit: 'places' },
      { what: 'shake', reading: 'shake.jitterPctWidth', value: jitterPct(r, WIDTH), unit: '%' },
    ],
  },
  {
    name: 'TL2_012_brick_and_cloth.mov',
    codec: 'prores',
    recipe: () => ({
      ...common,
      shots: one(brickAndCloth(WIDTH, HEIGHT), together(panning(22, 0), handHeld(0.9, 0.03, 622))),
      sensor: quiet,
      format: { bitDepth: 10, chroma: '422' },
      seed: 622,
    }),
    truth: (r) => [lumaNoise(r), ...nothingWrong],
  },
  {
    name: 'TL2_036_lever_close.mp4',
    codec: 'h264',
    recipe: () => ({
      ...common,
      frameRate: '24000/1001',
      frames: 96,
      shots: one(leverClose(WIDTH, HEIGHT), handHeld(1.2, 0.04, 623)),
      sensor: quiet,
      seed: 623,
    }),
    truth: () => [
      { what: 'blur of what is in focus', reading: 'softness.blurSigmaPx', value: 0.6, unit: 'px' },
      ...nothingWrong,
    ],
  },
  {
    name: 'TL2_060_halt_fade_out.mp4',
    codec: 'h264',
    recipe: () => ({
      ...common,
      shots: one(halt(WIDTH, HEIGHT), handHeld(1.3, 0.04, 624)),
      light: fading(2.2, 3.6),
      sensor: quiet,
      seed: 624,
    }),
    truth: () => [...nothingWrong],
  },
  {
    name: 'TL2_053_train_passes.mp4',
    codec: 'h264',
    recipe: () => ({
      ...common,
      shots: one(passingTrain(WIDTH, HEIGHT), handHeld(1.4, 0.04, 625)),
      sensor: quiet,
      seed: 625,
    }),
    truth: (r) => [
      { what: 'shake', reading: 'shake.jitterPctWidth', value: jitterPct(r, WIDTH), unit: '%' },
      ...nothingWrong,
    ],
  },
  {
    name: 'TL2_057_kiosk_awning.mp4',
    codec: 'h264',
    recipe: () => ({
      ...common,
      width: 1920,
      height: 1080,
      shots: one(awning(1920, 1080), handHeld(2, 0.05, 626)),
      sensor: quiet,
      seed: 626,
    }),
    truth: (r) => [lumaNoise(r), ...nothingWrong],
  },
  {
    name: 'TL2_079_frost_stars',
    codec: 'stills',
    recipe: () => ({
      ...common,
      shots: one(frost(WIDTH, HEIGHT), together(panning(14, 3), handHeld(0.4, 0.01, 627))),
      sensor: quiet,
      format: { bitDepth: 10, chroma: '444' },
      seed: 627,
    }),
    truth: (r) => [lumaNoise(r), ...nothingWrong],
  },
];
