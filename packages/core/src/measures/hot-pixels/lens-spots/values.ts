import { z } from 'zod';

/** Dirt on lens or sensor: soft, and in the same place whatever passes behind it; clip pixels. */
export const LensSpot = z.strictObject({
  x: z.number(),
  y: z.number(),
  radiusPx: z.number().positive(),
  contrastPct: z.number(),
  worstFrame: z.int().nonnegative(),
});
export type LensSpot = z.infer<typeof LensSpot>;
