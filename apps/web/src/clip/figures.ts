import type { Defect, FlickerValues, HotPixelValues, Measurement, NoiseValues } from '@bevrin/contract';
import { amount } from '../parts/format.js';

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

const MOST_PIXELS = 8;

const ofHotPixels = (v: HotPixelValues): Figure[] => [
  ['places', String(v.count)],
  ['per megapixel', amount(v.perMegapixel, '')],
  ...v.pixels
    .slice(0, MOST_PIXELS)
    .map((p): Figure => [
      `${p.kind}, ${p.channel}, at ${p.x}, ${p.y}`,
      `${amount(p.contrastPct, '%')}, seen ${Math.round(p.seenPct)} %`,
    ]),
  ...(v.pixels.length > MOST_PIXELS
    ? [['further places', String(v.pixels.length - MOST_PIXELS)] as const]
    : []),
];

/** The figures of a reading in words and units; none where it was not measured. */
export const figuresOf = (defect: Defect, { readings }: Measurement): Figure[] => {
  const { noise, flicker, hotPixels } = readings;
  if (defect === 'noise' && noise.state === 'measured') return ofNoise(noise.values);
  if (defect === 'flicker' && flicker.state === 'measured') return ofFlicker(flicker.values);
  if (defect === 'hotPixels' && hotPixels.state === 'measured') return ofHotPixels(hotPixels.values);
  return [];
};
