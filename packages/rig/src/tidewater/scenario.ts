import type { Codec } from '@bevrin/media';
import { pulsing, steady } from '../camera/light.js';
import { handHeld, panning, together } from '../camera/path.js';
import { cleanSensor } from '../camera/sensor.js';
import type { ClipRecipe } from '../recipe.js';
import type { RenderTruth } from '../render.js';
import { scatterFaults } from '../study-clip.js';
import { engineShed, halt, mudflats, signalBox } from './places.js';

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
];
