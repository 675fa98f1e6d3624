import { banding } from './banding/banding.js';
import { flicker } from './flicker/flicker.js';
import { hotPixels } from './hot-pixels/hot-pixels.js';
import type { Measure } from './measure.js';
import { moire } from './moire/moire.js';
import { noise } from './noise/noise.js';
import { rollingShutter } from './rolling-shutter/rolling-shutter.js';
import { softness } from './softness/softness.js';
import { shake } from './shake/shake.js';

/** Every measure there is. A new one is a module and a line here. */
export const MEASURES: readonly Measure[] = [
  shake,
  noise,
  flicker,
  rollingShutter,
  hotPixels,
  banding,
  moire,
  softness,
];
