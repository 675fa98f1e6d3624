import { banding } from './banding/descriptor.js';
import type { AnyDescriptor } from './descriptor.js';
import { flicker } from './flicker/descriptor.js';
import { hotPixels } from './hot-pixels/descriptor.js';
import { moire } from './moire/descriptor.js';
import { noise } from './noise/descriptor.js';
import { rollingShutter } from './rolling-shutter/descriptor.js';
import { shake } from './shake/descriptor.js';
import { softness } from './softness/descriptor.js';

/** Every defect there is, in the order in which pages and documents list them. A new one is a folder and a line here. */
export const DESCRIPTORS = [
  shake,
  noise,
  flicker,
  rollingShutter,
  hotPixels,
  banding,
  moire,
  softness,
] as const satisfies readonly AnyDescriptor[];
