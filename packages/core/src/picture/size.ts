import type { Plane } from './frame.js';

type Size = Pick<Plane, 'width' | 'height'>;

/** A picture with a shorter side than this, pixels, holds one window of what is measured in windows, and hardly a flat patch. */
const LEAST_SIDE = 64;

/** Whether a picture is too small to measure anything in it. */
export const isTooSmall = ({ width, height }: Size): boolean => Math.min(width, height) < LEAST_SIDE;

/**
 * Says so.
 * @param to what cannot be done: "to judge its edges"
 */
export const tooSmall = ({ width, height }: Size, to: string): string =>
  `The picture is too small (${width}×${height}) ${to}.`;
