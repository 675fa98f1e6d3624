import type {
  BandingValues,
  Defect,
  FlickerValues,
  HotPixelValues,
  Measurement,
  MoireValues,
  NoiseValues,
  RollingShutterValues,
  ShakeValues,
  SoftnessValues,
} from '@bevrin/contract';
import { amount } from '../../parts/format.js';

type Figure = readonly [name: string, value: string];

const percent = (share: number): string => `${Math.round(100 * share)} %`;
const optional = (value: number | null, unit: string): string =>
  value === null ? 'none' : amount(value, unit);

const CHANNEL_NAMES: Record<NoiseValues['worstChannel'], string> = {
  luma: 'luma',
  cb: 'Cb',
  cr: 'Cr',
  red: 'red',
  green: 'green',
  blue: 'blue',
};

const ofNoise = (v: NoiseValues): Figure[] => [
  ['luma σ', amount(v.lumaPct, '%')],
  ['signal to noise', amount(v.snrDb, 'dB')],
  ['Cb σ', optional(v.cbPct, '%')],
  ['Cr σ', optional(v.crPct, '%')],
  ['red σ', optional(v.redPct, '%')],
  ['green σ', optional(v.greenPct, '%')],
  ['blue σ', optional(v.bluePct, '%')],
  ['worst channel', CHANNEL_NAMES[v.worstChannel]],
  ['in the shadows σ', optional(v.shadowSigmaPct, '%')],
  ...(v.gradedLumaPct === undefined
    ? []
    : [['after viewing transform', amount(v.gradedLumaPct, '%')] as const]),
  ['changes with time', percent(v.temporalShare)],
  ['fine, about 1 px', percent(v.fineShare)],
  ['medium, about 2 px', percent(v.mediumShare)],
  ['coarse, 4 px and more', percent(v.coarseShare)],
];

const shutter = (seconds: number): string => `1/${Number((1 / seconds).toFixed(1))} s`;

const ofFlicker = (v: FlickerValues): Figure[] => [
  ['depth', amount(v.depthPct, '%')],
  ['RMS', amount(v.rmsPct, '%')],
  ['pattern', v.pattern.replace('-', ' ')],
  ['frequency', optional(v.frequencyHz, 'Hz')],
  ['bars in the frame', optional(v.barsPerFrame, '')],
  ['drift', v.barDriftPerSec === null ? 'none' : `${amount(v.barDriftPerSec, '')} heights/s`],
  ...v.lampHz.flatMap((lamp): Figure[] => [
    ['lamps', `${lamp.lightHz} Hz light`],
    ['steady shutters', lamp.steadyShuttersSec.map(shutter).slice(0, 3).join(', ') || 'none'],
  ]),
];

const placesText = (count: number): string =>
  count === 0 ? 'none' : count === 1 ? '1 place' : `${count} places`;

const ofHotPixels = (v: HotPixelValues): Figure[] => [
  ['places', String(v.count)],
  ['per megapixel', amount(v.perMegapixel, '')],
  // A measurement of an earlier version has no such list.
  ['not to be told from the scene', placesText((v.uncertain ?? []).length)],
  ['lens spots', v.spots === null ? 'camera too still to tell' : String(v.spots.length)],
  ['specks', v.specks === null ? 'too few frames to tell' : `${amount(v.specks.perFrame, '')} a frame`],
  ...(v.specks?.frames.length
    ? ([
        ['median area of a speck', amount(v.specks.medianAreaPx, 'px²')],
        ['frames with specks', String(v.specks.frames.length)],
      ] as const)
    : []),
];

const ofShake = (v: ShakeValues): Figure[] => [
  ['jitter, RMS', amount(v.jitterRmsPx, 'px')],
  ['of the width', amount(v.jitterPctWidth, '%')],
  ['farthest', amount(v.peakPx, 'px')],
  ['rotation, RMS', amount(v.jitterRmsDeg, '°')],
  ['strongest at', optional(v.dominantHz, 'Hz')],
  ['crop to hide it', amount(v.cropPct, '%')],
  ['goes its own way', amount(v.movingSubjectPct, '%')],
  ['camera', v.camera],
];

const ofRollingShutter = (v: RollingShutterValues): Figure[] => [
  ['read-out', amount(v.readoutMs, 'ms')],
  ['of the frame interval', percent(v.readoutFraction)],
  ['lean at the fastest', amount(v.skewDeg, '°')],
  ['wobble, RMS', amount(v.wobblePx, 'px')],
];

const ofBanding = (v: BandingValues): Figure[] => [
  ['index', amount(v.index, '')],
  ['banded area', amount(v.areaPct, '%')],
  ['median step', v.stepPct > 0 ? amount(v.stepPct, '%') : 'none'],
  ['bits really used', amount(v.effectiveBits, '')],
];

const ofMoire = (v: MoireValues): Figure[] => [
  ['index', amount(v.index, '')],
  ['area', amount(v.areaPct, '%')],
];

const ofSoftness = (v: SoftnessValues): Figure[] => [
  ['blur σ', amount(v.blurSigmaPx, 'px')],
  ['half contrast at', amount(v.mtf50, 'c/px')],
  ['width of its detail', amount(v.effectiveWidth, 'px')],
  ['over the size delivered', percent(v.effectiveScale)],
  ['soft frames', amount(v.softFramesPct, '%')],
];

/** The figures of a reading in words and units; none where it was not measured. */
export const figuresOf = (defect: Defect, { readings }: Measurement): Figure[] => {
  const figures: { [D in Defect]: () => Figure[] } = {
    shake: () => (readings.shake.state === 'measured' ? ofShake(readings.shake.values) : []),
    noise: () => (readings.noise.state === 'measured' ? ofNoise(readings.noise.values) : []),
    flicker: () => (readings.flicker.state === 'measured' ? ofFlicker(readings.flicker.values) : []),
    rollingShutter: () =>
      readings.rollingShutter.state === 'measured' ? ofRollingShutter(readings.rollingShutter.values) : [],
    hotPixels: () => (readings.hotPixels.state === 'measured' ? ofHotPixels(readings.hotPixels.values) : []),
    banding: () => (readings.banding.state === 'measured' ? ofBanding(readings.banding.values) : []),
    moire: () => (readings.moire.state === 'measured' ? ofMoire(readings.moire.values) : []),
    softness: () => (readings.softness.state === 'measured' ? ofSoftness(readings.softness.values) : []),
  };
  return figures[defect]();
};
