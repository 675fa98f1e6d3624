import { TREATMENTS } from '#document';
import type { Treatment } from './treatment.js';
import { conform } from './treatments/conform.js';
import { correctPixels } from './treatments/correct-pixels.js';
import { correctSpots } from './treatments/correct-spots.js';
import { deband } from './treatments/deband.js';
import { deflicker } from './treatments/deflicker.js';
import { grain } from './treatments/grain.js';
import { rebuildFrames } from './treatments/rebuild-frames.js';
import { reduceMoire } from './treatments/reduce-moire.js';
import { reduceNoise } from './treatments/reduce-noise.js';
import { removeSpecks } from './treatments/remove-specks.js';
import { scale } from './treatments/scale.js';
import { sharpen } from './treatments/sharpen.js';
import { stabilise } from './treatments/stabilise.js';
import { straightenRows } from './treatments/straighten-rows.js';

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
  scale,
  sharpen,
  grain,
} satisfies Record<(typeof TREATMENTS)[number], Treatment>;

/** Every treatment, in the order in which the work must be done. */
export const TREATMENTS_IN_ORDER: readonly Treatment[] = TREATMENTS.map((name) => ALL[name]);
