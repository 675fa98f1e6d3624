import type { Measurement } from '@bevrin/contract';
import type { RenderedStudy, StudyClip } from '@bevrin/rig';

/** One figure of a drawn clip: what was put in, how far the reading may be off, and how far we want it to be at most. */
export interface Check {
  /** `measure.value`, as in the document. */
  readonly reading: string;
  readonly truth: number | string | boolean;
  readonly unit: string;
  readonly bar: number;
  readonly goal: number;
}

export interface AccuracyCase {
  readonly measure: string;
  readonly name: string;
  readonly clip: StudyClip;
  readonly checks: (rendered: RenderedStudy['truth']) => readonly Check[];
}

const NOISE = [0.7, 0.7, 0.7] as const;
const tenBit = { format: { bitDepth: 10, chroma: '422' }, codec: 'ffv1' } as const;

/** Displacement of the picture's centre about its mean, pixels, with the pan taken out. */
export const jitterOf = (poses: RenderedStudy['truth']['poses'], clip: StudyClip): number => {
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
  };
  return {
    measure: 'shake',
    name,
    clip: whole,
    checks: ({ poses }) => {
      const truth = jitterOf(poses, whole);
      return [
        {
          reading: 'shake.jitterRmsPx',
          truth,
          unit: 'px',
          bar: 0.04 * truth + 0.03,
          goal: 0.015 * truth + 0.01,
        },
        ...(whole.readout === undefined
          ? []
          : [
              {
                reading: 'rollingShutter.readoutFraction',
                truth: whole.readout,
                unit: '',
                bar: 0.06,
                goal: 0.02,
              },
            ]),
      ];
    },
  };
};

const edges = (
  name: string,
  study: StudyClip['study'],
  lensSigmaPx: number,
  noise: number,
  seed: number,
  more: Partial<StudyClip> = {},
): AccuracyCase => ({
  measure: 'softness',
  name,
  clip: {
    study,
    width: 640,
    height: 360,
    frames: 8,
    seed,
    lensSigmaPx,
    noisePct: [noise, noise, noise],
    camera: { handPx: 1.5 },
    shutter: 0.2,
    codec: 'h264Lossless',
    ...more,
  },
  checks: () => [
    {
      reading: 'softness.blurSigmaPx',
      truth: lensSigmaPx,
      unit: 'px',
      bar: 0.25 * lensSigmaPx + 0.2,
      goal: 0.1 * lensSigmaPx + 0.1,
    },
  ],
});

/** Present or not: an index on the right side of what a delivery lets pass. */
const present = (
  measure: 'banding' | 'moire',
  name: string,
  truth: boolean,
  clip: Partial<StudyClip> & Pick<StudyClip, 'study' | 'seed'>,
): AccuracyCase => ({
  measure,
  name,
  clip: {
    width: 640,
    height: 360,
    frames: measure === 'moire' ? 24 : 8,
    codec: 'h264',
    camera: { handPx: 1.8 },
    shutter: 0.2,
    lensSigmaPx: 0.4,
    noisePct: [0.5, 0.5, 0.5],
    ...clip,
  },
  checks: () => [{ reading: `${measure}.index`, truth, unit: '', bar: 0, goal: 0 }],
});

/** An index at or above this says that the thing is there. */
export const PRESENT_FROM = 20;

/** The set that accuracy is stated on. Rendered by the rig, small, kept in the cache by content. */
export const ACCURACY_CASES: readonly AccuracyCase[] = [
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
    ...tenBit,
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
  edges('foliage, sharp', 'foliage', 0.5, 0.5, 821),
  edges('wall, noisy', 'wall', 0.8, 2, 822),
  edges('night', 'night', 1.2, 0.7, 823),
  edges('dusk at 10 bits', 'dusk', 2, 0.7, 824, { ...tenBit }),
  edges('foliage, very noisy', 'foliage', 2.5, 3, 825),
  edges('wall, soft', 'wall', 3, 1, 826),
  edges('foliage, softest', 'foliage', 4, 0.5, 827),
  edges('shaken, yet sharp', 'wall', 0.6, 0.7, 828, { camera: { handPx: 6, handDeg: 0.2 }, shutter: 0.5 }),
  present('banding', 'sky of 6 bits', true, {
    study: 'dusk',
    seed: 841,
    signalBits: 6,
    noisePct: [0.05, 0.05, 0.05],
  }),
  present('banding', 'sky of 5 bits', true, {
    study: 'dusk',
    seed: 842,
    signalBits: 5,
    noisePct: [0.05, 0.05, 0.05],
  }),
  present('banding', 'wall of 6 bits', true, {
    study: 'wall',
    seed: 843,
    signalBits: 6,
    noisePct: [0.05, 0.05, 0.05],
  }),
  present('banding', 'sky of 6 bits in a 10-bit file', true, {
    format: { bitDepth: 10, chroma: '422' },
    codec: 'prores',
    study: 'dusk',
    seed: 844,
    signalBits: 6,
    noisePct: [0, 0, 0],
  }),
  present('banding', 'sky of 6 bits under grain', false, {
    study: 'dusk',
    seed: 845,
    signalBits: 6,
    noisePct: [1.2, 1.2, 1.2],
  }),
  present('banding', 'clean sky of 8 bits', false, { study: 'dusk', seed: 846, noisePct: [0.3, 0.3, 0.3] }),
  present('banding', 'clean sky of 8 bits without any noise', false, {
    study: 'dusk',
    seed: 847,
    noisePct: [0, 0, 0],
  }),
  present('banding', 'foliage', false, { study: 'foliage', seed: 848 }),
  present('banding', 'noisy night', false, { study: 'night', seed: 849, noisePct: [3, 3, 3] }),
  present('moire', 'cloth that aliases', true, {
    study: 'cloth',
    seed: 861,
    aperture: 0.3,
    cloth: { cyclesPerPx: 0.94 },
  }),
  present('moire', 'finer cloth that aliases', true, {
    study: 'cloth',
    seed: 862,
    aperture: 0.3,
    cloth: { cyclesPerPx: 0.86 },
    camera: { panPx: 30, handPx: 1 },
  }),
  present('moire', 'false colour of a mosaic', true, {
    study: 'cloth',
    seed: 863,
    aperture: 0.5,
    mosaic: true,
    cloth: { cyclesPerPx: 0.44 },
  }),
  present('moire', 'false colour, finer', true, {
    study: 'cloth',
    seed: 864,
    aperture: 0.5,
    mosaic: true,
    cloth: { cyclesPerPx: 0.55 },
  }),
  present('moire', 'cloth that the lens resolves', false, {
    study: 'cloth',
    seed: 865,
    cloth: { cyclesPerPx: 0.2 },
  }),
  present('moire', 'coloured stripes', false, {
    study: 'cloth',
    seed: 866,
    cloth: { cyclesPerPx: 0.12, coloured: true },
  }),
  present('moire', 'foliage', false, { study: 'foliage', seed: 867 }),
  present('moire', 'noisy night', false, { study: 'night', seed: 868, noisePct: [3, 3, 3] }),
];

/** What the document says for a reading; `null` where it was not measured. */
export const readingOf = ({ readings }: Measurement, path: string): number | null => {
  const [measure, name] = path.split('.');
  const reading = Object.entries(readings).find(([m]) => m === measure)?.[1];
  if (!reading || reading.state === 'notMeasurable') return null;
  const value = (reading.values as Record<string, unknown>)[name];
  return typeof value === 'number' ? value : null;
};

/** Whether a reading lies within the bar, or within the goal. */
export const meets = ({ truth, bar, goal }: Check, value: number | null, which: 'bar' | 'goal'): boolean => {
  if (value === null) return false;
  if (typeof truth === 'boolean') return value >= PRESENT_FROM === truth;
  return Math.abs(value - Number(truth)) <= (which === 'bar' ? bar : goal);
};
