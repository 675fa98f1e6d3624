import { z } from 'zod';
import { CAMERA_KINDS } from './overrides.js';

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

const NoiseCurve = z.array(z.strictObject({ levelPct: z.number(), sigmaPct: Percent }));

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
  /** Noise of luma against its level; and of the other channels, where the clip has them. */
  curve: NoiseCurve,
  channelCurves: z.partialRecord(z.enum(CHANNELS), NoiseCurve).optional(),
  shadowSigmaPct: Percent.nullable(),
  /** Noise of luma after the viewing transform; absent without one. */
  gradedLumaPct: Percent.optional(),
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
  /** Where there are rolling bars: light of each row band, from the top, about its slow course, over the first seconds. */
  rows: z
    .strictObject({
      startFrame: z.int().nonnegative(),
      lightPct: z.array(z.array(z.number().nullable())),
    })
    .optional(),
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

/** A place that cannot be told from the scene, and why. */
export const UncertainPlace = z.strictObject({ x: z.number(), y: z.number(), because: z.string() });
export type UncertainPlace = z.infer<typeof UncertainPlace>;

export const LensSpotFound = z.strictObject({
  x: z.number(),
  y: z.number(),
  radiusPx: z.number().positive(),
  contrastPct: z.number(),
  worstFrame: z.int().nonnegative(),
});
export const SpecksFound = z.strictObject({
  perFrame: z.number().nonnegative(),
  medianAreaPx: z.number().nonnegative(),
  largestPct: Percent,
  frames: z.array(
    z.strictObject({
      frame: z.int().nonnegative(),
      specks: z.array(
        z.strictObject({ x: z.number(), y: z.number(), areaPx: z.number(), contrastPct: z.number() }),
      ),
    }),
  ),
});

export const HotPixelValues = z.strictObject({
  count: z.int().nonnegative(),
  perMegapixel: z.number().nonnegative(),
  pixels: z.array(PixelFault),
  /** Places that may be faults or the scene's own detail: they count for nothing. */
  uncertain: z.array(UncertainPlace).default([]),
  /** `null` where the camera stood still: a soft spot of the lens then looks like one of the scene. */
  spots: z.array(LensSpotFound).nullable(),
  spotCount: z.int().nonnegative().nullable(),
  /** `null` where frames could not be set against their neighbours. */
  specks: SpecksFound.nullable(),
  specksPerFrame: z.number().nonnegative().nullable(),
});
export type HotPixelValues = z.infer<typeof HotPixelValues>;

export const CAMERAS = [...CAMERA_KINDS, 'unknown'] as const;

export const ShakeValues = z.strictObject({
  jitterRmsPx: z.number().nonnegative(),
  jitterPctWidth: Percent,
  peakPx: z.number().nonnegative(),
  jitterRmsDeg: z.number().nonnegative(),
  dominantHz: z.number().nonnegative().nullable(),
  cropPct: Percent,
  movingSubjectPct: Percent,
  camera: z.enum(CAMERAS),
  spectrum: z.array(z.strictObject({ frequencyHz: z.number(), amplitudePx: z.number().nonnegative() })),
});
export type ShakeValues = z.infer<typeof ShakeValues>;

export const RollingShutterValues = z.strictObject({
  readoutFraction: z.number().min(0).max(1),
  readoutMs: z.number().nonnegative(),
  skewDeg: z.number().nonnegative(),
  wobblePx: z.number().nonnegative(),
  /** How well each read-out explains what was seen: the smaller the residual, the better. */
  candidates: z.array(z.strictObject({ readoutFraction: z.number(), residualPx: z.number().nonnegative() })),
});
export type RollingShutterValues = z.infer<typeof RollingShutterValues>;

export const BandingValues = z.strictObject({
  areaPct: Percent,
  stepPct: Percent,
  index: z.number().min(0).max(100),
  effectiveBits: z.number().positive(),
  /** How often each code was seen, over the part of the range that is used; at most 512 entries. */
  histogram: z.strictObject({ firstCode: z.int().nonnegative(), counts: z.array(z.int().nonnegative()) }),
});
export type BandingValues = z.infer<typeof BandingValues>;

export const MoirePattern = z.strictObject({
  ...Region.shape,
  periodPx: z.number().positive(),
  kind: z.enum(['luma', 'colour']),
  crawlPxPerFrame: z.number().nonnegative().nullable(),
});
export const MoireValues = z.strictObject({
  index: z.number().min(0).max(100),
  areaPct: Percent,
  patternCount: z.int().nonnegative(),
  patterns: z.array(MoirePattern),
});
export type MoireValues = z.infer<typeof MoireValues>;

export const SOFT_CAUSES = ['shake', 'focus', 'move'] as const;
export const SoftFrames = z.strictObject({
  startFrame: z.int().nonnegative(),
  endFrame: z.int().nonnegative(),
  cause: z.enum(SOFT_CAUSES),
  recoverable: z.boolean(),
});
export type SoftFrames = z.infer<typeof SoftFrames>;

export const SoftnessValues = z.strictObject({
  blurSigmaPx: z.number().nonnegative(),
  mtf50: z.number().nonnegative(),
  effectiveWidth: z.int().positive(),
  effectiveScale: z.number().min(0).max(1),
  softFrames: z.array(SoftFrames),
  softFramesPct: Percent,
});
export type SoftnessValues = z.infer<typeof SoftnessValues>;

export const MeasuredNoise = measured(NoiseValues, z.strictObject({}));
/** `lightPct`: light about its slow course; of the whole frame, or of the middle row band where there are rolling bars. */
export const MeasuredFlicker = measured(FlickerValues, z.strictObject({ lightPct: Series }));
export const MeasuredHotPixels = measured(HotPixelValues, z.strictObject({}));
/** `jitterX`, `jitterY`: the picture's centre about the intended path; `intendedX`, `intendedY`: that path. Clip pixels. */
export const MeasuredShake = measured(
  ShakeValues,
  z.strictObject({ jitterX: Series, jitterY: Series, intendedX: Series, intendedY: Series }),
);
/** `leanPx`: how far the last row lies to the right of the first, because it was read later. */
export const MeasuredRollingShutter = measured(RollingShutterValues, z.strictObject({ leanPx: Series }));
export const MeasuredBanding = measured(BandingValues, z.strictObject({}));
export const MeasuredMoire = measured(MoireValues, z.strictObject({}));
/** `detailPct`: fine detail of each frame over that of the sharpest frames about it. */
export const MeasuredSoftness = measured(SoftnessValues, z.strictObject({ detailPct: Series }));

const orNot = <M extends z.ZodType>(reading: M) => z.union([reading, NotMeasurable]);

export const Readings = z.strictObject({
  shake: orNot(MeasuredShake),
  noise: orNot(MeasuredNoise),
  flicker: orNot(MeasuredFlicker),
  rollingShutter: orNot(MeasuredRollingShutter),
  hotPixels: orNot(MeasuredHotPixels),
  banding: orNot(MeasuredBanding),
  moire: orNot(MeasuredMoire),
  softness: orNot(MeasuredSoftness),
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
