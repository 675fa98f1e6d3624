import { z } from 'zod';

/** A frame rate as the stream states it, for example `30000/1001`. */
export const Rational = z.string().regex(/^\d+\/[1-9]\d*$/);

/**
 * A rate as a number.
 * @param rational such as `30000/1001`
 */
export const rationalToNumber = (rational: string): number => {
  const [numerator, denominator] = rational.split('/').map(Number);
  return numerator / denominator;
};

/** Rates that differ by less than this share are the same: half of what lies between 24 and 24000/1001. */
const SAME_RATE = 5e-4;

/** Whether frames follow each other in the same time. @param one, other rationals such as `30000/1001` */
export const isSameRate = (one: string, other: string): boolean => {
  const [was, is] = [one, other].map(rationalToNumber);
  return Math.abs(was - is) <= SAME_RATE * was;
};

/** Facts that are assumed where a stream does not say them. */
export const ASSUMABLE = ['range', 'matrix', 'transfer', 'frameRate', 'scan'] as const;

/** A part of the picture, clip pixels. */
export const Rectangle = z.strictObject({
  x: z.number(),
  y: z.number(),
  width: z.number().positive(),
  height: z.number().positive(),
});

/** What the file says of itself. Sizes in pixels after turning; frames and seconds of the whole clip. */
export const ClipFacts = z.strictObject({
  file: z.string(),
  container: z.string(),
  codec: z.string(),
  width: z.int().positive(),
  height: z.int().positive(),
  /** Clockwise turn in degrees that was applied before width and height were read. */
  rotation: z.union([z.literal(0), z.literal(90), z.literal(180), z.literal(270)]),
  /** Shape of one pixel, width over height. */
  pixelAspect: z.number().positive(),
  frameRate: Rational,
  variableFrameRate: z.boolean(),
  scan: z.enum(['progressive', 'interlaced']),
  /** The field that is shown first; `null` for whole frames, and where the stream does not say. */
  fieldOrder: z.enum(['top', 'bottom']).nullable().default(null),
  bitDepth: z.int().min(1).max(16),
  pixelFormat: z.string(),
  frames: z.int().positive(),
  durationSec: z.number().positive(),
  range: z.enum(['limited', 'full']),
  matrix: z.enum(['bt709', 'bt601', 'bt2020', 'rgb']),
  transfer: z.enum(['bt709', 'srgb', 'linear', 'pq', 'hlg']),
  assumed: z.array(z.enum(ASSUMABLE)),
});
export type ClipFacts = z.infer<typeof ClipFacts>;

/** The facts together with what the measurement itself found out about the picture. */
export const MeasuredClip = ClipFacts.extend({
  /** `null` says that black bars were not looked for. */
  activePicture: Rectangle.nullable(),
  /** `null` says that repeated frames were not looked for. */
  duplicateFrames: z.int().nonnegative().nullable(),
  /** Frames before which one was lost, as an even move of the camera shows it; `null` where it was not looked for. */
  lostBefore: z.array(z.int().nonnegative()).nullable(),
  /** Every so many frames one is shown again, where it is regular. */
  repeatEvery: z.int().positive().nullable(),
  /** Steps at the edges of 8×8 blocks over steps between them; 1 where compression left no blocks. */
  blockiness: z.number().nonnegative().nullable(),
  /** Mean luma over the frames that were seen full size, % of range; `null` where none was. */
  meanLumaPct: z.number().nullable().default(null),
  /** How the rows were exposed as the picture shows it, and the field that came first; `null` where nothing tells. */
  scanSeen: z.enum(['progressive', 'interlaced']).nullable().default(null),
  fieldOrderSeen: z.enum(['top', 'bottom']).nullable().default(null),
  /** How fields were treated: `firstField` says that one field of each frame was measured. */
  measuredAs: z.enum(['frames', 'firstField']),
});
export type MeasuredClip = z.infer<typeof MeasuredClip>;

/** How the code values of one frame lie in the bytes of an answer: Y Cb Cr, or G B R, or luma alone; little-endian. */
export const FrameLayout = z.strictObject({
  bytesPerSample: z.union([z.literal(1), z.literal(2)]),
  planes: z
    .array(z.strictObject({ width: z.int().positive(), height: z.int().positive() }))
    .min(1)
    .max(3),
});
export type FrameLayout = z.infer<typeof FrameLayout>;
