import { TREATMENTS } from '#document';
import type { Treatment } from './treatment.js';
import { conform, stabilise, straightenRows } from './treatments/geometry.js';
import { deflicker } from './treatments/light.js';
import { reduceNoise } from './treatments/noise.js';
import { deband, rebuildFrames, reduceMoire, sharpen } from './treatments/picture.js';
import { correctPixels, correctSpots, removeSpecks } from './treatments/sensor.js';

const ALL = {
  conform,
  correctPixels,
  correctSpots,
  removeSpecks,
  deflicker,
  reduceNoise,
  straightenRows,
  stabilise,
  rebuildFrames,
  reduceMoire,
  deband,
  sharpen,
} satisfies Record<(typeof TREATMENTS)[number], Treatment>;

/** Every treatment, in the order in which the work must be done. */
export const TREATMENTS_IN_ORDER: readonly Treatment[] = TREATMENTS.map((name) => ALL[name]);
