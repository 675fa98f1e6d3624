import type { RenderedStudy, StudyClip } from '@bevrin/rig';
import { checkOf, TEN_BIT, type AccuracyCase } from './check.js';
import { judging } from './seeds.js';

const NOISE = [0.7, 0.7, 0.7] as const;

/** Displacement of the picture's centre about its mean, pixels, with the pan taken out. */
const jitterOf = (poses: RenderedStudy['truth']['poses'], clip: StudyClip): number => {
  const [pan, tilt] = [(clip.camera?.panPx ?? 0) / 25, (clip.camera?.tiltPx ?? 0) / 25];
  const power = (values: number[]): number => {
    const mean = values.reduce((a, b) => a + b, 0) / values.length;
    return values.reduce((sum, v) => sum + (v - mean) ** 2, 0) / values.length;
  };
  return Math.sqrt(power(poses.map((p, f) => p.x - pan * f)) + power(poses.map((p, f) => p.y - tilt * f)));
};

const moving = (name: string, clip: Partial<StudyClip> & Pick<StudyClip, 'study' | 'seed'>): AccuracyCase => {
  const whole: StudyClip = {
    width: 480,
    height: 270,
    frames: 110,
    noisePct: NOISE,
    codec: 'h264Lossless',
    shutter: 0.3,
    ...clip,
    seed: judging(clip.seed),
  };
  return {
    measure: 'shake',
    name,
    clip: whole,
    checks: ({ poses }) => {
      const truth = jitterOf(poses, whole);
      return [
        checkOf('shake', 'jitterRmsPx', truth),
        ...(whole.readout === undefined ? [] : [checkOf('rollingShutter', 'readoutFraction', whole.readout)]),
      ];
    },
  };
};

/** Shake, and the read-out that only shows with it. */
export const MOTION_CASES: readonly AccuracyCase[] = [
  moving('wall, hardly moving', { study: 'wall', seed: 801, camera: { handPx: 0.4, handDeg: 0.01 } }),
  moving('foliage, fine shake', {
    study: 'foliage',
    seed: 802,
    camera: { handPx: 1.2, handDeg: 0.05 },
    readout: 0.5,
  }),
  moving('night and noise', {
    study: 'night',
    seed: 803,
    camera: { handPx: 2.5, handDeg: 0.1 },
    noisePct: [2, 2, 2],
    readout: 0.3,
  }),
  moving('wall, a large subject', {
    study: 'wall',
    seed: 804,
    camera: { handPx: 5, handDeg: 0.15 },
    subject: { tall: 1.2, pxPerSec: 150 },
    readout: 0.7,
  }),
  moving('foliage, flicker, a pan', {
    study: 'foliage',
    seed: 805,
    camera: { handPx: 3, handDeg: 0.1, panPx: 50 },
    light: { pulseHz: 6.1, depth: 0.15 },
    readout: 0.15,
  }),
  moving('wall at 10 bits, hard shake', {
    ...TEN_BIT,
    study: 'wall',
    seed: 806,
    camera: { handPx: 8, handDeg: 0.3 },
    readout: 0.9,
  }),
  moving('foliage, the hardest shake', {
    study: 'foliage',
    seed: 807,
    camera: { handPx: 12, handDeg: 0.4 },
    readout: 0,
  }),
];
