import { notMeasurable, type Reading } from '#terms';
import type { Measure } from '../measure.js';
import type { HotPixelValues } from './descriptor.js';
import { faultyPixels } from './faulty-pixels/faulty-pixels.js';
import { lensSpots } from './lens-spots/lens-spots.js';
import { specks } from './specks/specks.js';

/** Edge of the square that marks one faulty pixel, px. */
const REGION_SIDE = 9;

/**
 * Three measures side by side: faulty pixels of the sensor, spots on the lens, and specks that are there for a frame.
 * What one of them cannot tell, the others still may; without the sensor there is no reading.
 *
 * Method: docs/measures/hot-pixels.md. Positions in clip pixels.
 */
export const hotPixels: Measure<Reading<HotPixelValues, Record<never, never>>> = {
  begin: (clip, motion, options) => {
    const sensor = faultyPixels.begin(clip, motion, options);
    const lens = lensSpots.begin(clip, motion, options);
    const passing = specks.begin(clip, motion, options);
    return {
      take: (frame) => {
        if (frame.view === 'burst') return sensor.take(frame);
        lens.take(frame);
        passing.take(frame);
      },
      finish: () => {
        const faults = sensor.finish();
        const spots = lens.finish();
        const found = passing.finish();
        if ('reason' in faults) return notMeasurable(faults.reason);
        const { confidence, pixels, perMegapixel, uncertain } = faults;
        return {
          state: 'measured',
          reason: null,
          confidence,
          values: {
            count: pixels.length,
            perMegapixel,
            pixels,
            uncertain,
            spots,
            spotCount: spots && spots.length,
            specks: found && found.specks,
            specksPerFrame: found && found.specks.perFrame,
          },
          ...(found && { scatter: { specksPerFrame: found.perFrameError } }),
          series: {},
          regions: pixels.map((f) => ({
            x: Math.max(0, f.x - (REGION_SIDE >> 1)),
            y: Math.max(0, f.y - (REGION_SIDE >> 1)),
            width: REGION_SIDE,
            height: REGION_SIDE,
            startFrame: 0,
            endFrame: clip.frames - 1,
            strength: f.contrastPct,
          })),
        };
      },
    };
  },
};
