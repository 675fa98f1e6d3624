import { z } from 'zod';
import { Defect } from './defects.js';
import { Region } from './readings.js';

const Share = z.number().min(0).max(1);

/** What one limit is set against: a value of a clip, and how much of it a viewer notices. */
export const SeenReading = z.strictObject({
  defect: Defect,
  value: z.number().nullable(),
  /** Why there is no value, where the measure said so. */
  missing: z.string().nullable(),
  startFrame: z.int().nonnegative(),
  endFrame: z.int().nonnegative(),
  /** Frames of the clip. */
  frames: z.int().positive(),
  /** Shares of time and picture in which it shows; place (1 in the middle) and contrast with what is behind it. */
  notice: z.strictObject({ time: Share, area: Share, place: Share, contrast: Share }),
  regions: z.array(Region),
});
export type SeenReading = z.infer<typeof SeenReading>;
