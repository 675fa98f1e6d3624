import { equivalentSigmaPx, overshootOf, type Sharpening, type StudyClip } from '@bevrin/rig';
import { checkOf, FULL_RANGE, TEN_BIT, type AccuracyCase } from './check.js';
import { judging } from './seeds.js';

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
    lensSigmaPx,
    noisePct: [noise, noise, noise],
    camera: { handPx: 1.5 },
    shutter: 0.2,
    codec: 'h264Lossless',
    ...more,
    seed: judging(seed),
  },
  checks: () => [
    checkOf('softness', 'blurSigmaPx', equivalentSigmaPx(more.lensShape ?? 'gaussian', lensSigmaPx)),
  ],
});

/** A picture that was sharpened: how far the bright side of its edges stands above itself. */
const sharpened = (
  name: string,
  study: StudyClip['study'],
  lensSigmaPx: number,
  seed: number,
  by: Sharpening | null,
  more: Partial<StudyClip> = {},
): AccuracyCase => {
  const drawn = edges(name, study, lensSigmaPx, 0.5, seed, { ...(by && { sharpened: by }), ...more });
  const truth = by ? 100 * overshootOf(by, lensSigmaPx) : 0;
  return { ...drawn, checks: () => [checkOf('softness', 'overshootPct', truth)] };
};

/** Frames that are much softer than those about them, out of focus. */
const focusLost = (
  name: string,
  study: StudyClip['study'],
  seed: number,
  softBetween: StudyClip['softBetween'] & {},
): AccuracyCase => {
  const frames = 40;
  const drawn = edges(name, study, 0.6, 0.6, seed, { frames, width: 480, height: 270, softBetween });
  const share = (100 * (softBetween.to - softBetween.from + 1)) / frames;
  return { ...drawn, checks: () => [checkOf('softness', 'softFramesPct', share)] };
};

/** A picture that was blown up: the size that its detail has over the size that it came in. */
const blownUp = (
  name: string,
  study: StudyClip['study'],
  times: number,
  seed: number,
  more: Partial<StudyClip> = {},
  known?: string,
): AccuracyCase => ({
  measure: 'softness',
  name,
  clip: {
    study,
    width: Math.round(960 / times),
    height: Math.round(540 / times),
    frames: 8,
    lensSigmaPx: 0.5,
    noisePct: [0.8, 0.8, 0.8],
    camera: { handPx: 1 },
    shutter: 0.2,
    codec: 'h264',
    enlargeTo: { width: 960, height: 540 },
    ...more,
    seed: judging(seed),
  },
  checks: () => [{ ...checkOf('softness', 'effectiveScale', 1 / times), known }],
});

/** The commonest way to less detail than the size holds: a lens that draws softly, before a mosaic. */
const SOFT_MOSAIC: Partial<StudyClip> = { lensSigmaPx: 0.8, mosaic: true };

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
    seed: judging(clip.seed),
  },
  checks: () => [{ reading: `${measure}.index`, truth, unit: '', bar: 0, goal: 0 }],
});

/** Softness by its figure; banding and moiré by whether they are there. */
export const PICTURE_CASES: readonly AccuracyCase[] = [
  edges('foliage, sharp', 'foliage', 0.5, 0.5, 821),
  edges('wall, noisy', 'wall', 0.8, 2, 822),
  edges('night', 'night', 1.2, 0.7, 823),
  edges('dusk at 10 bits', 'dusk', 2, 0.7, 824, TEN_BIT),
  edges('wall, out of focus', 'wall', 1.4, 0.7, 829, { lensShape: 'defocus' }),
  edges('foliage, a lens that veils', 'foliage', 0.8, 0.5, 830, { lensShape: 'veil' }),
  {
    ...edges('wall, UHD by a camera codec', 'wall', 0.9, 0.7, 831, {
      width: 3840,
      height: 2160,
      frames: 2,
      codec: 'h264',
    }),
    inTableAlone: true,
  },
  edges('foliage, very noisy', 'foliage', 2.5, 3, 825),
  edges('wall, soft', 'wall', 3, 1, 826),
  edges('foliage, softest', 'foliage', 4, 0.5, 827),
  edges('shaken, yet sharp', 'wall', 0.6, 0.7, 828, { camera: { handPx: 6, handDeg: 0.2 }, shutter: 0.5 }),
  {
    // A scene without one plain edge says nothing of the lens.
    ...edges('clouds alone', 'clouds', 0.6, 0.5, 836),
    checks: () => [
      {
        reading: 'softness.blurSigmaPx',
        truth: 'not told',
        unit: 'px',
        bar: 0,
        goal: 0,
        from: ({ readings: { softness } }) =>
          softness.state === 'measured' ? softness.values.blurSigmaPx : 'not told',
      },
    ],
  },
  blownUp('foliage, half as large again', 'foliage', 1.5, 832),
  blownUp('wall, six fifths', 'wall', 1.2, 833),
  blownUp('foliage, three times its size', 'foliage', 3, 834),
  blownUp('bricks, twice and a half', 'bricks', 2.5, 835),
  blownUp('wall, twice its size', 'wall', 2, 836),
  blownUp('foliage, soft, from a mosaic, half as large again', 'foliage', 1.5, 837, SOFT_MOSAIC),
  blownUp('wall, soft, from a mosaic, six fifths', 'wall', 1.2, 838, SOFT_MOSAIC),
  blownUp(
    'wall, soft, from a mosaic, four thirds',
    'wall',
    4 / 3,
    839,
    SOFT_MOSAIC,
    'four thirds leave their trace where a codec leaves its own: the edges say at most how much there is',
  ),
  sharpened('wall, sharpened', 'wall', 0.8, 861, { amount: 1, sigmaPx: 1 }),
  sharpened('wall, sharpened hard', 'wall', 0.8, 862, { amount: 2, sigmaPx: 1.2 }),
  sharpened('foliage, sharpened a little', 'foliage', 0.7, 863, { amount: 0.5, sigmaPx: 1 }),
  sharpened('wall, sharpened wide, 10 bits', 'wall', 1, 864, { amount: 0.8, sigmaPx: 2 }, TEN_BIT),
  sharpened('wall as the lens drew it', 'wall', 0.8, 865, null),
  focusLost('foliage, focus lost for four frames', 'foliage', 866, { from: 15, to: 18, sigmaPx: 2.4 }),
  focusLost('wall, focus lost for ten frames', 'wall', 867, { from: 20, to: 29, sigmaPx: 2.2 }),
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
  present('banding', 'sky of 6 bits, full range', true, {
    ...FULL_RANGE,
    study: 'dusk',
    seed: 974,
    signalBits: 6,
    noisePct: [0, 0, 0],
  }),
  present('banding', 'clean sky, full range', false, {
    ...FULL_RANGE,
    study: 'dusk',
    seed: 975,
    noisePct: [0.3, 0.3, 0.3],
  }),
  present('banding', 'sky of 7 bits', true, {
    study: 'dusk',
    seed: 850,
    signalBits: 7,
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
  present('moire', 'false colour, its waves wide', true, {
    study: 'cloth',
    seed: 869,
    aperture: 0.6,
    mosaic: true,
    cloth: { cyclesPerPx: 0.465 },
    format: { bitDepth: 10, chroma: '422' },
    codec: 'prores',
  }),
  present('moire', 'brick and a lattice', false, { study: 'bricks', seed: 870 }),
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
