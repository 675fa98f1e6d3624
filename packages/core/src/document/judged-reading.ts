import { z } from 'zod';
import { Defect, Verdict } from './defects.js';
import { Interval, Region, Share } from '../terms/index.js';

/** What one limit is set against: a value of a clip, and how much of it a viewer notices. */
export const JudgedReading = z.strictObject({
  defect: Defect,
  value: z.number().nullable(),
  /** Between which the truth lies in nine of ten cases; `null` where that is not known. */
  interval: Interval.nullable().default(null),
  /** Why there is no value, where the measure said so. */
  missing: z.string().nullable(),
  startFrame: z.int().nonnegative(),
  endFrame: z.int().nonnegative(),
  /** Frames of the clip. */
  frames: z.int().positive(),
  /** Shares of time and picture in which it shows; place (1 in the middle) and contrast with what is behind it. */
  visibility: z.strictObject({ time: Share, area: Share, place: Share, contrast: Share }),
  /** Whether it lies in the technician's region of interest; `null` where there is none, or it lies nowhere in particular. */
  inInterest: z.boolean().nullable(),
  regions: z.array(Region),
});
export type JudgedReading = z.infer<typeof JudgedReading>;

/** What the limits of a spec are set against, for one clip of a batch: all that is needed to move a limit and see. */
export const ClipReadings = z.strictObject({
  clipId: z.uuid(),
  clip: z.string(),
  /** How the facts of the file stand; no limit moves that. */
  facts: Verdict,
  /** By `defect.reading`. Without regions: they play no part in a verdict. */
  readings: z.record(z.string(), JudgedReading),
});
export type ClipReadings = z.infer<typeof ClipReadings>;
