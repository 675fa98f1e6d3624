import {
  DEFECTS,
  notMeasurable,
  type DeliverySpec,
  type Measurement,
  type Readings,
  type ValuesOf,
} from '@bevrin/contract';

const NOISE: ValuesOf<'noise'> = {
  lumaPct: 0.3,
  cbPct: 0.2,
  crPct: 0.2,
  redPct: 0.4,
  greenPct: 0.3,
  bluePct: 0.5,
  snrDb: 50,
  worstChannel: 'blue',
  fineShare: 0.8,
  mediumShare: 0.15,
  coarseShare: 0.05,
  temporalShare: 1,
  curve: [],
  shadowSigmaPct: null,
  shadowFew: false,
};
const FLICKER: ValuesOf<'flicker'> = {
  depthPct: 0,
  rmsPct: 0,
  frequencyHz: null,
  pattern: 'none',
  barsPerFrame: null,
  barDriftPerSec: null,
  lampHz: [],
  exposureChanges: [],
  exposureChangePct: 0,
  spectrum: [],
};
const HOT: ValuesOf<'hotPixels'> = {
  count: 0,
  perMegapixel: 0,
  pixels: [],
  uncertain: [],
  spots: null,
  spotCount: null,
  specks: null,
  specksPerFrame: null,
};

const measured = <V, S>(values: V, series: S) => ({
  state: 'measured' as const,
  reason: null,
  confidence: 0.9,
  values,
  series,
  regions: [],
});

/** A reading of each defect that there is, none of them measured. */
const UNREAD = Object.fromEntries(DEFECTS.map((d) => [d, notMeasurable('not built yet')])) as Readings;

/** A measurement with the readings that a test is about; everything else is clean. For tests of scoring and planning. */
export const measurementWith = (
  change: {
    noise?: Partial<ValuesOf<'noise'>>;
    flicker?: Partial<ValuesOf<'flicker'>>;
    hotPixels?: Partial<ValuesOf<'hotPixels'>>;
  } = {},
): Measurement => ({
  schema: 'bevrin.measure/1',
  clip: {
    file: 'clip.mov',
    container: 'mov',
    codec: 'prores',
    width: 1920,
    height: 1080,
    rotation: 0,
    pixelAspect: 1,
    frameRate: '25/1',
    variableFrameRate: false,
    scan: 'progressive',
    fieldOrder: null,
    bitDepth: 10,
    pixelFormat: 'yuv422p10le',
    frames: 100,
    durationSec: 4,
    range: 'limited',
    matrix: 'bt709',
    transfer: 'bt709',
    assumed: [],
    activePicture: null,
    duplicateFrames: null,
    lostBefore: null,
    repeatEvery: null,
    blockiness: null,
    meanLumaPct: null,
    scanSeen: null,
    fieldOrderSeen: null,
    measuredAs: 'frames',
  },
  measuredUnder: {},
  shots: [{ startFrame: 0, endFrame: 99 }],
  readings: {
    ...UNREAD,
    noise: measured({ ...NOISE, ...change.noise }, {}),
    flicker: measured({ ...FLICKER, ...change.flicker }, { lightPct: [] }),
    hotPixels: measured({ ...HOT, ...change.hotPixels }, {}),
  },
});

/** A delivery spec with a limit for each measure there is. */
export const HOUSE_SPEC: DeliverySpec = {
  schema: 'bevrin.spec/1',
  id: 'house',
  name: 'House',
  version: 3,
  description: '',
  requires: {},
  harm: [],
  beside: [],
  limits: [
    {
      defect: 'noise',
      reading: 'lumaPct',
      unit: '%',
      pass: 1,
      fail: 2,
      weight: 1,
      passesUnseen: false,
      marginalAtMost: false,
      leastFrames: 0,
      leastAreaPct: 0,
    },
    {
      defect: 'flicker',
      reading: 'depthPct',
      unit: '%',
      pass: 1.5,
      fail: 3,
      weight: 1,
      passesUnseen: false,
      marginalAtMost: false,
      leastFrames: 0,
      leastAreaPct: 0,
    },
    {
      defect: 'hotPixels',
      reading: 'count',
      unit: 'places',
      pass: 0.5,
      fail: 2.5,
      weight: 1,
      passesUnseen: false,
      marginalAtMost: false,
      leastFrames: 0,
      leastAreaPct: 0,
    },
  ],
};
