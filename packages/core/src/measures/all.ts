import { DEFECTS, notMeasurable, type Defect, type NotMeasurable } from '@bevrin/contract';
import { flicker } from './flicker/flicker.js';
import { hotPixels } from './hot-pixels/hot-pixels.js';
import type { Measure } from './measure.js';
import { noise } from './noise/noise.js';

/** Every measure there is. A new one is a module and a line here. */
export const MEASURES: readonly Measure[] = [noise, flicker, hotPixels];

const NOT_BUILT = 'not built yet';

/** The answers of the defects that no measure looks at yet. */
export const unbuiltReadings = (): Partial<Record<Defect, NotMeasurable>> =>
  Object.fromEntries(
    DEFECTS.filter((d) => !MEASURES.some((m) => m.defect === d)).map((d) => [d, notMeasurable(NOT_BUILT)]),
  );
