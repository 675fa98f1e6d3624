import { checkOf, FULL_RANGE, TEN_BIT, type AccuracyCase } from './check.js';
import type { StudyClip } from '@bevrin/rig';
import { judging } from './seeds.js';

const CHANNELS = ['cb', 'cr', 'red', 'green', 'blue'] as const;

const noise = (
  name: string,
  clip: Partial<StudyClip> & Pick<StudyClip, 'study' | 'seed' | 'noisePct'>,
): AccuracyCase => ({
  measure: 'noise',
  name,
  clip: { width: 480, height: 270, frames: 18, codec: 'h264Lossless', ...clip, seed: judging(clip.seed) },
  checks: ({ noisePct }) => [
    checkOf('noise', 'lumaPct', noisePct.luma),
    ...CHANNELS.map((channel) => checkOf('noise', `${channel}Pct`, noisePct[channel])),
    { reading: 'hotPixels.count', truth: 0, unit: '', bar: 0, goal: 0 },
  ],
});

/** Noise of luma and of each channel; it must not be read as faults of the sensor. */
export const NOISE_CASES: readonly AccuracyCase[] = [
  noise('fine, hand-held foliage', {
    study: 'foliage',
    seed: 11,
    camera: { handPx: 3, handDeg: 0.2 },
    noisePct: [1, 1, 1],
  }),
  // Detail finer than the sensor tells is drawn anew wherever the camera moves to: it comes and goes as noise does.
  noise('faint, foliage through a mosaic', {
    study: 'foliage',
    seed: 26,
    camera: { handPx: 2 },
    noisePct: [0.5, 0.5, 0.5],
    mosaic: true,
    lensSigmaPx: 0.35,
  }),
  noise('faint, foliage before a sensor that samples points', {
    study: 'foliage',
    seed: 27,
    camera: { handPx: 2 },
    noisePct: [0.5, 0.5, 0.5],
    aperture: 0.5,
    lensSigmaPx: 0.35,
  }),
  noise('heavy, foliage', {
    study: 'foliage',
    seed: 12,
    camera: { handPx: 2, handDeg: 0.1 },
    noisePct: [7, 7, 7],
  }),
  noise('foliage, full range', {
    ...FULL_RANGE,
    study: 'foliage',
    seed: 971,
    camera: { handPx: 2, handDeg: 0.1 },
    noisePct: [1.6, 1.6, 1.6],
  }),
  noise('coarse grain, foliage', {
    study: 'foliage',
    seed: 13,
    camera: { handPx: 3 },
    noisePct: [2, 2, 2],
    grainSigmaPx: 1.3,
  }),
  noise('faint, a panned wall', {
    study: 'wall',
    seed: 14,
    camera: { panPx: 40 },
    noisePct: [0.5, 0.5, 0.5],
  }),
  noise('blue worse than the others', {
    study: 'wall',
    seed: 15,
    camera: { handPx: 2 },
    noisePct: [1, 0.7, 3],
  }),
  noise('clumped grain at 10 bits', {
    ...TEN_BIT,
    study: 'wall',
    seed: 16,
    camera: { handPx: 2, handDeg: 0.2 },
    noisePct: [2, 2, 2],
    grainSigmaPx: 2,
  }),
  noise('night, grows in the shadows, 10 bits', {
    ...TEN_BIT,
    study: 'night',
    seed: 17,
    camera: { handPx: 2 },
    noisePct: [2, 2, 2],
    shadowLift: 0.6,
  }),
  noise('locked-off wall', { study: 'wall', seed: 18, noisePct: [1.5, 1.5, 1.5] }),
  noise('under light in bars', {
    study: 'foliage',
    seed: 19,
    camera: { handPx: 2 },
    noisePct: [1.5, 1.5, 1.5],
    light: { pulseHz: 120, depth: 0.1 },
    shutter: 0.1,
    readout: 0.7,
  }),
  noise('somebody large walks through', {
    study: 'wall',
    seed: 20,
    camera: { handPx: 2 },
    noisePct: [1.2, 1.2, 1.2],
    subject: { tall: 1.2, pxPerSec: 500 },
  }),
  noise('dusk, 10 bits', {
    ...TEN_BIT,
    study: 'dusk',
    seed: 24,
    camera: { handPx: 1.5 },
    noisePct: [1.4, 1.4, 1.4],
  }),
  noise('soft lens, foliage', {
    study: 'foliage',
    seed: 25,
    camera: { handPx: 2 },
    noisePct: [2.5, 2.5, 3.5],
    lensSigmaPx: 2,
  }),
];
