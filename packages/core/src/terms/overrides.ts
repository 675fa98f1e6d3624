import { z } from 'zod';
import { Rectangle } from './facts.js';

/** How a camera can be meant to be held. */
export const CAMERA_KINDS = ['locked-off', 'hand-held', 'panning', 'travelling'] as const;
/** The schema of how a camera was meant to be held. */
export const CameraIntent = z.enum(CAMERA_KINDS);
export type CameraIntent = z.infer<typeof CameraIntent>;

const Frames = z.strictObject({ startFrame: z.int().nonnegative(), endFrame: z.int().nonnegative() });
const Point = z.tuple([z.number(), z.number()]);

/** Part of the picture, in clip pixels. */
export const Shape = z.discriminatedUnion('kind', [
  Rectangle.extend({ kind: z.literal('rectangle') }),
  z.strictObject({ kind: z.literal('polygon'), points: z.array(Point).min(3) }),
]);
export type Shape = z.infer<typeof Shape>;

/** A place in the picture, pixels. */
export interface Box {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
}

/** The smallest box about a shape. */
export const boxAbout = (shape: Shape): Box => {
  const { x, y, width, height } = shape.kind === 'rectangle' ? shape : aboutPoints(shape.points);
  return { x, y, width, height };
};

const aboutPoints = (points: readonly (readonly [number, number])[]): Box => {
  const [xs, ys] = [points.map((p) => p[0]), points.map((p) => p[1])];
  const [x, y] = [Math.min(...xs), Math.min(...ys)];
  return { x, y, width: Math.max(...xs) - x, height: Math.max(...ys) - y };
};

/** A shape that is left out of every measure, over the whole clip or over some frames. */
export const PictureMask = z.strictObject({ shape: Shape, frames: Frames.optional() });
export type PictureMask = z.infer<typeof PictureMask>;

const LIFTED = z.strictObject({ kind: z.literal('lift'), stops: z.number().min(-8).max(8) });
const LIFT_AND_GAIN = z.strictObject({
  kind: z.literal('liftGain'),
  /** Where black comes to lie, as a share of the range. */
  lift: z.number().min(-0.5).max(0.5),
  /** Where white comes to lie, over where it lay. */
  gain: z.number().min(0.1).max(16),
});

/**
 * How the clip will be looked at: a `.cube` table by its text, exposure raised by so many stops in linear light, or lift
 * and gain of the signal.
 */
export const ViewingTransform = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('cube'), name: z.string(), text: z.string() }),
  LIFTED,
  LIFT_AND_GAIN,
]);
export type ViewingTransform = z.infer<typeof ViewingTransform>;

const Shaped = z.strictObject({
  /** In and out point; both frames are inside. */
  range: Frames.refine((r) => r.endFrame >= r.startFrame, {
    message: 'the out point lies before the in point',
  }).optional(),
  intent: CameraIntent.optional(),
  /** A flat place; noise is read there and nowhere else. */
  noisePatch: Rectangle.optional(),
  masks: z.array(PictureMask).optional(),
  /** What the viewer looks at; softness is judged there, and what lies in it weighs in full. */
  interest: Rectangle.optional(),
  viewing: ViewingTransform.optional(),
});

/** What a technician decided about how a clip is measured. Everything is optional; nothing of it changes the clip. */
export const Overrides = Shaped.default({});
export type Overrides = z.infer<typeof Overrides>;
export type OverrideName = keyof Overrides;

/** What a measurement was made under, as it stands in the document: a `.cube` table by its name alone. */
export const MeasuredUnder = Shaped.extend({
  viewing: z
    .discriminatedUnion('kind', [
      z.strictObject({ kind: z.literal('cube'), name: z.string() }),
      LIFTED,
      LIFT_AND_GAIN,
    ])
    .optional(),
});
export type MeasuredUnder = z.infer<typeof MeasuredUnder>;
