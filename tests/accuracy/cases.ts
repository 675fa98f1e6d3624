import type { AccuracyCase } from './check.js';
import { DIRT_CASES } from './dirt-cases.js';
import { LIGHT_CASES } from './light-cases.js';
import { MOTION_CASES } from './motion-cases.js';
import { NOISE_CASES } from './noise-cases.js';
import { PICTURE_CASES } from './picture-cases.js';
import { SENSOR_CASES } from './sensor-cases.js';

/** The set that accuracy is stated on. Rendered by the rig, small, kept in the cache by content. */
export const ACCURACY_CASES: readonly AccuracyCase[] = [
  ...MOTION_CASES,
  ...NOISE_CASES,
  ...LIGHT_CASES,
  ...SENSOR_CASES,
  ...DIRT_CASES,
  ...PICTURE_CASES,
];
