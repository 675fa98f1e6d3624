import { z } from 'zod';

/** A rectangle of the picture over a span of frames, in clip pixels; `endFrame` is inclusive. */
export const Region = z.strictObject({
  x: z.number(),
  y: z.number(),
  width: z.number().positive(),
  height: z.number().positive(),
  startFrame: z.int().nonnegative(),
  endFrame: z.int().nonnegative(),
  strength: z.number(),
});
export type Region = z.infer<typeof Region>;

/** Frames between two cuts; both ends are inside. */
export const Shot = z.strictObject({ startFrame: z.int().nonnegative(), endFrame: z.int().nonnegative() });
export type Shot = z.infer<typeof Shot>;

/** One value for each frame; `null` where a frame has none. */
export const Series = z.array(z.number().nullable());

/** A percentage that may exceed 100, such as a contrast; never below nothing. */
export const Percent = z.number().nonnegative();
/** A part of a whole, 0 to 1. */
export const Share = z.number().min(0).max(1);

/** Standard error of figures by their names, in the unit of each, from how the evidence of the figure scatters. */
export const Scatter = z.record(z.string(), z.number().nonnegative());
export type Scatter = z.infer<typeof Scatter>;

/** Between which the truth lies in nine of ten cases, in the unit of the reading. */
export const Interval = z.strictObject({ low: z.number(), high: z.number() });
export type Interval = z.infer<typeof Interval>;

/** What a measure answers that could not tell, and why. */
export const NotMeasurable = z.strictObject({
  state: z.literal('notMeasurable'),
  reason: z.string().min(1),
  confidence: z.literal(0),
  values: z.strictObject({}),
  series: z.strictObject({}),
  regions: z.array(Region).length(0),
});
export type NotMeasurable = z.infer<typeof NotMeasurable>;

/**
 * The schema of a reading that was measured.
 * @param values what one figure each says of the clip
 * @param series what is said of each frame
 */
export const measured = <V extends z.ZodType, S extends z.ZodType>(values: V, series: S) =>
  z.strictObject({
    state: z.literal('measured'),
    reason: z.null(),
    confidence: Share,
    values,
    scatter: Scatter.optional(),
    series,
    regions: z.array(Region),
  });

/** A reading with its evidence. */
export interface Measured<Values, S = Record<string, (number | null)[]>> {
  state: 'measured';
  reason: null;
  confidence: number;
  values: Values;
  /** Of those figures that know how far their own evidence scatters. */
  scatter?: Scatter;
  series: S;
  regions: Region[];
}

/** What one measure answers: values with evidence, or the reason why there are none. */
export type Reading<Values, S = Record<string, (number | null)[]>> = Measured<Values, S> | NotMeasurable;

/** The reading of a measure that could not answer. */
export const notMeasurable = (reason: string): NotMeasurable => ({
  state: 'notMeasurable',
  reason,
  confidence: 0,
  values: {},
  series: {},
  regions: [],
});
