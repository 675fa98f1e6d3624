import type { TreatmentName } from '#document';
import { correctPixels } from './correct-pixels.js';
import { correctSpots } from './correct-spots.js';
import { deband } from './deband.js';
import { deflicker } from './deflicker.js';
import { rebuildFrames } from './rebuild-frames.js';
import { grain } from './grain.js';
import { reduceMoire } from './reduce-moire.js';
import { reduceNoise } from './reduce-noise.js';
import { removeSpecks } from './remove-specks.js';
import type { Runner } from './runner.js';
import { scale } from './scale.js';
import { sharpen } from './sharpen.js';
import { stabilise } from './stabilise.js';
import { straightenRows } from './straighten-rows.js';
import { withinRegions } from './within.js';

/** The treatments that run, by name. */
export const RUNNERS: Partial<Record<TreatmentName, Runner>> = {
  correctPixels,
  correctSpots,
  removeSpecks,
  deflicker: withinRegions(deflicker),
  reduceNoise: withinRegions(reduceNoise),
  straightenRows,
  stabilise,
  rebuildFrames,
  reduceMoire,
  deband,
  scale,
  sharpen: withinRegions(sharpen),
  grain: withinRegions(grain),
};
