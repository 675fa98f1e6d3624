import { fading } from '../camera/light.js';
import { handHeld, panning, combined } from '../camera/path.js';
import {
  common,
  HEIGHT,
  jitterPct,
  lumaNoise,
  nothingWrong,
  one,
  quiet,
  WIDTH,
  type ScenarioClip,
} from './clip.js';
import { brickAndCloth, leverClose } from './indoors.js';
import { awning, frost, halt, passingTrain } from './outdoors.js';

/** Clips of the demo with nothing wrong, that tempt a false alarm. */
export const CLEAN_CLIPS: readonly ScenarioClip[] = [
  {
    name: 'TL2_012_brick_and_cloth.mov',
    codec: 'prores',
    recipe: () => ({
      ...common,
      shots: one(brickAndCloth(WIDTH, HEIGHT), combined(panning(22, 0), handHeld(0.9, 0.03, 622))),
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
      frameRate: '50/1',
      frames: 200,
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
      shots: one(frost(WIDTH, HEIGHT), combined(panning(14, 3), handHeld(0.4, 0.01, 627))),
      sensor: quiet,
      format: { bitDepth: 10, chroma: '444' },
      seed: 627,
    }),
    truth: (r) => [lumaNoise(r), ...nothingWrong],
  },
];
