import { both, pulsing, unsteady } from '../camera/light.js';
import { handHeld, jolts, lockedOff, panning, combined, zooming } from '../camera/path.js';
import { cleanSensor } from '../camera/sensor.js';
import { scatterFaults } from '../study-clip.js';
import {
  common,
  HEIGHT,
  jitterPct,
  lumaNoise,
  none,
  one,
  quiet,
  round,
  WIDTH,
  type ScenarioClip,
} from './clip.js';
import { brickAndCloth, carriage, engineShed, signalBox } from './indoors.js';
import { cutting, lastLight, mudflats } from './outdoors.js';

const LAMP_HZ = 100;
const LAMP_DEPTH = 0.16;
const LAMP_RATE = 24;
const LAMP_SHUTTER = 0.12;
/** The exposure averages the lamp: what is left of its swing. */
const exposedDepth = (): number => {
  const x = (Math.PI * LAMP_HZ * LAMP_SHUTTER) / LAMP_RATE;
  return LAMP_DEPTH * Math.abs(Math.sin(x) / x);
};
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

/** Clips of the demo with something to repair. */
export const FAULTY_CLIPS: readonly ScenarioClip[] = [
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
      {
        what: 'noise of the blue channel, before the codec',
        reading: 'noise.bluePct',
        value: r.noisePct.blue,
        unit: '%',
      },
    ],
  },
  {
    name: 'TL2_047_mudflats_dusk.mp4',
    codec: 'hevc',
    recipe: () => ({
      ...common,
      shots: one(mudflats(WIDTH, HEIGHT), combined(panning(26, 2), handHeld(1.2, 0.04, 603))),
      sensor: { ...quiet, faults },
      seed: 603,
    }),
    truth: (r) => [
      { what: 'faults of the sensor', reading: 'hotPixels.count', value: faults.length, unit: 'places' },
      lumaNoise(r),
    ],
  },
  {
    name: 'TL2_018_footplate_ride.mp4',
    codec: 'h264',
    recipe: () => ({
      ...common,
      shots: one(cutting(WIDTH, HEIGHT), combined(handHeld(11, 0.35, 611), zooming(0.008))),
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
      shots: one(carriage(WIDTH, HEIGHT, 0.44), handHeld(2.6, 0.04, 612)),
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
    name: 'TL2_064_works_wall_spots.mov',
    codec: 'prores',
    recipe: () => ({
      ...common,
      shots: one(brickAndCloth(WIDTH, HEIGHT), combined(panning(31, 4), handHeld(0.8, 0.02, 614))),
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
        combined(panning(18, 1), handHeld(1.2, 0.03, 618), jolts([1.01, 2.52, 3.53], 26, 0.1)),
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
];
