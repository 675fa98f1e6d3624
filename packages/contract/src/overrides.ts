import { z } from 'zod';
import { Rectangle } from './facts.js';

export const CAMERA_KINDS = ['locked-off', 'hand-held', 'panning', 'travelling'] as const;
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

/** A shape that is left out of every measure, over the whole clip or over some frames. */
export const PictureMask = z.strictObject({ shape: Shape, frames: Frames.optional() });
export type PictureMask = z.infer<typeof PictureMask>;

/** How the clip will be looked at: a `.cube` table by its text, or exposure raised by so many stops in linear light. */
export const ViewingTransform = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('cube'), name: z.string(), text: z.string() }),
  z.strictObject({ kind: z.literal('lift'), stops: z.number().min(-8).max(8) }),
]);
export type ViewingTransform = z.infer<typeof ViewingTransform>;

/** What a technician decided about how a clip is measured. Everything is optional; nothing of it changes the clip. */
export const Overrides = z
  .strictObject({
    /** In and out point; both frames are inside. */
    range: Frames.refine((r) => r.endFrame >= r.startFrame, {
      message: 'the out point lies before the in point',
    }).optional(),
    intent: CameraIntent.optional(),
    /** A flat place; noise is read there and nowhere else. */
    noisePatch: Rectangle.optional(),
    masks: z.array(PictureMask).optional(),
    /** What the viewer looks at; softness is judged there. */
    interest: Rectangle.optional(),
    viewing: ViewingTransform.optional(),
  })
  .default({});
export type Overrides = z.infer<typeof Overrides>;
