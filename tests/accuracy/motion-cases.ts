import { studyRecipe, type RenderedStudy, type StudyClip } from '@bevrin/rig';
import { checkOf, TEN_BIT, type AccuracyCase, type Check } from './check.js';
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

/** Times within a frame at which rows are looked at, so many from the first to the last. */
const ROWS = 24;

/**
 * What a read-out does to a picture whose camera moves so: by how much a vertical leans where it goes sideways the fastest,
 * degrees; and how far the rows lie from where the middle row has them, RMS, % of the width.
 */
const rowsOf = (clip: StudyClip, readout: number): { skewDeg: number; wobblePctWidth: number } => {
  const [{ camera }] = studyRecipe(clip).shots;
  const at = (time: number) => camera(time / 25);
  const offset = (clip.shutter ?? 0) / 2;
  let [sum, farthest] = [0, 0];
  for (let f = 0; f < clip.frames; f++) {
    const middle = at(f + offset + readout / 2);
    for (let r = 0; r < ROWS; r++) {
      const row = at(f + offset + (readout * (r + 0.5)) / ROWS);
      sum += (row.x - middle.x) ** 2 + (row.y - middle.y) ** 2;
    }
    farthest = Math.max(farthest, Math.abs(at(f + offset + readout).x - at(f + offset).x));
  }
  return {
    skewDeg: (Math.atan(farthest / clip.height) * 180) / Math.PI,
    wobblePctWidth: (100 * Math.sqrt(sum / (clip.frames * ROWS))) / clip.width,
  };
};

const rowChecks = (clip: StudyClip, readout: number): Check[] => {
  const { skewDeg, wobblePctWidth } = rowsOf(clip, readout);
  return [
    checkOf('rollingShutter', 'readoutFraction', readout),
    checkOf('rollingShutter', 'skewDeg', skewDeg),
    checkOf('rollingShutter', 'wobblePctWidth', wobblePctWidth),
  ];
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
        checkOf('shake', 'jitterPctWidth', (100 * truth) / whole.width),
        ...(whole.readout === undefined ? [] : rowChecks(whole, whole.readout)),
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
  moving('a face close by that sways', {
    study: 'close-up',
    seed: 809,
    camera: { handPx: 1.5, handDeg: 0.05 },
  }),
  moving('a face close by, hard shake', {
    study: 'close-up',
    seed: 810,
    camera: { handPx: 5, handDeg: 0.15 },
    readout: 0.5,
  }),
  moving('a stream behind a post, held', { study: 'stream', seed: 808, camera: {}, frames: 60 }),
];
