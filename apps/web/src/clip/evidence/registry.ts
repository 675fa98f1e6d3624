import type { Defect } from '@bevrin/contract';
import { banding } from './banding/evidence.js';
import type { DefectEvidence } from './evidence.js';
import { flicker } from './flicker/evidence.js';
import { hotPixels } from './hot-pixels/evidence.js';
import { moire } from './moire/evidence.js';
import { noise } from './noise/evidence.js';
import { rollingShutter } from './rolling-shutter/evidence.js';
import { shake } from './shake/evidence.js';
import { softness } from './softness/evidence.js';

const EVIDENCE: Partial<Record<Defect, DefectEvidence>> = {
  shake,
  noise,
  flicker,
  rollingShutter,
  hotPixels,
  banding,
  moire,
  softness,
};

/** What the clip page shows of a defect beyond its figures. */
export const evidenceOf = (defect: Defect): DefectEvidence => EVIDENCE[defect] ?? {};
