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

/** One value for each frame; `null` where a frame has none. */
export const Series = z.array(z.number().nullable());

export const NotMeasurable = z.strictObject({
  state: z.literal('notMeasurable'),
  reason: z.string().min(1),
  confidence: z.literal(0),
  values: z.strictObject({}),
  series: z.strictObject({}),
  regions: z.array(Region).length(0),
});
export type NotMeasurable = z.infer<typeof NotMeasurable>;

const measured = <V extends z.ZodType, S extends z.ZodType>(values: V, series: S) =>
  z.strictObject({
    state: z.literal('measured'),
    reason: z.null(),
    confidence: z.number().min(0).max(1),
    values,
    series,
    regions: z.array(Region),
  });

export const CHANNELS = ['luma', 'cb', 'cr', 'red', 'green', 'blue'] as const;
const Percent = z.number().nonnegative();
const Share = z.number().min(0).max(1);

export const NoiseValues = z.strictObject({
  lumaPct: Percent,
  cbPct: Percent.nullable(),
  crPct: Percent.nullable(),
  redPct: Percent.nullable(),
  greenPct: Percent.nullable(),
  bluePct: Percent.nullable(),
  snrDb: z.number(),
  worstChannel: z.enum(CHANNELS),
  fineShare: Share,
  mediumShare: Share,
  coarseShare: Share,
  temporalShare: Share,
  curve: z.array(z.strictObject({ levelPct: z.number(), sigmaPct: Percent })),
  shadowSigmaPct: Percent.nullable(),
});
export type NoiseValues = z.infer<typeof NoiseValues>;

export const FLICKER_PATTERNS = ['none', 'whole-frame', 'rolling-bars', 'irregular'] as const;

export const FlickerValues = z.strictObject({
  depthPct: Percent,
  rmsPct: Percent,
  frequencyHz: z.number().nonnegative().nullable(),
  pattern: z.enum(FLICKER_PATTERNS),
  barsPerFrame: z.number().nonnegative().nullable(),
  barDriftPerSec: z.number().nullable(),
  lampHz: z.array(
    z.strictObject({ lightHz: z.number(), aliasHz: z.number(), steadyShuttersSec: z.array(z.number()) }),
  ),
  spectrum: z.array(z.strictObject({ frequencyHz: z.number(), amplitudePct: Percent })),
});
export type FlickerValues = z.infer<typeof FlickerValues>;

export const PixelFault = z.strictObject({
  x: z.number(),
  y: z.number(),
  kind: z.enum(['hot', 'dead', 'stuck']),
  channel: z.enum(['luma', 'red', 'green', 'blue']),
  contrastPct: z.number(),
  seenPct: Percent,
});
export type PixelFault = z.infer<typeof PixelFault>;

export const HotPixelValues = z.strictObject({
  count: z.int().nonnegative(),
  perMegapixel: z.number().nonnegative(),
  pixels: z.array(PixelFault),
  /** `null` says that lens spots were not looked for. */
  spots: z.null(),
  /** `null` says that specks were not looked for. */
  specks: z.null(),
});
export type HotPixelValues = z.infer<typeof HotPixelValues>;

export const MeasuredNoise = measured(NoiseValues, z.strictObject({}));
/** `lightPct`: light about its slow course; of the whole frame, or of the middle row band where there are rolling bars. */
export const MeasuredFlicker = measured(FlickerValues, z.strictObject({ lightPct: Series }));
export const MeasuredHotPixels = measured(HotPixelValues, z.strictObject({}));

const orNot = <M extends z.ZodType>(reading: M) => z.union([reading, NotMeasurable]);

export const Readings = z.strictObject({
  shake: NotMeasurable,
  noise: orNot(MeasuredNoise),
  flicker: orNot(MeasuredFlicker),
  rollingShutter: NotMeasurable,
  hotPixels: orNot(MeasuredHotPixels),
  banding: NotMeasurable,
  moire: NotMeasurable,
  softness: NotMeasurable,
});
export type Readings = z.infer<typeof Readings>;

/** What one measure answers: values with evidence, or the reason why there are none. */
export type Reading<Values, S = Record<string, (number | null)[]>> =
  | {
      state: 'measured';
      reason: null;
      confidence: number;
      values: Values;
      series: S;
      regions: Region[];
    }
  | NotMeasurable;

/** The reading of a measure that could not answer. */
export const notMeasurable = (reason: string): NotMeasurable => ({
  state: 'notMeasurable',
  reason,
  confidence: 0,
  values: {},
  series: {},
  regions: [],
});
