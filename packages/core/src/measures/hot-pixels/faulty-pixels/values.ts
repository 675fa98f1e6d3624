import { z } from 'zod';
import { Percent } from '#terms';

/** A single place of the sensor that is at fault, clip pixels. */
export const PixelFault = z.strictObject({
  x: z.number(),
  y: z.number(),
  kind: z.enum(['hot', 'dead', 'stuck']),
  channel: z.enum(['luma', 'red', 'green', 'blue']),
  contrastPct: z.number(),
  seenPct: Percent,
});
export type PixelFault = z.infer<typeof PixelFault>;

/** A place that cannot be told from the scene, and why. */
export const UncertainPlace = z.strictObject({ x: z.number(), y: z.number(), because: z.string() });
export type UncertainPlace = z.infer<typeof UncertainPlace>;
