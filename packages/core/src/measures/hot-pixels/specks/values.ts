import { z } from 'zod';
import { Percent } from '#terms';

/** What is there once and gone: dirt, insects, birds. Clip pixels. */
export const Speck = z.strictObject({
  x: z.number(),
  y: z.number(),
  areaPx: z.number(),
  contrastPct: z.number(),
});
export type Speck = z.infer<typeof Speck>;

/** Specks of a clip: how many a frame, how large (px², and % of the picture), and where. */
export const Specks = z.strictObject({
  perFrame: z.number().nonnegative(),
  medianAreaPx: z.number().nonnegative(),
  largestPct: Percent,
  frames: z.array(z.strictObject({ frame: z.int().nonnegative(), specks: z.array(Speck) })),
});
export type Specks = z.infer<typeof Specks>;
