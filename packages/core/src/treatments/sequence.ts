import type { ClipFacts } from '#terms';
import type { Plane } from '../picture/frame.js';

/** A full-size frame, planes as the feed delivers them: Y Cb Cr; G B R where the matrix is `rgb`; luma alone where there is no colour. */
export interface Picture {
  readonly planes: readonly Plane[];
}

/** Full-size frames of a clip, one after the other. */
export interface Sequence {
  readonly clip: ClipFacts;
  /** Position in the clip of the first of them. */
  readonly firstFrame: number;
  readonly pictures: readonly Picture[];
}

/** A plane of the same shape and depth, with nothing in it. */
export const blankLike = ({ width, height, samples }: Plane): Plane => ({
  width,
  height,
  samples: samples instanceof Uint8Array ? new Uint8Array(samples.length) : new Uint16Array(samples.length),
});

/** A plane that may be written to. */
export const copyOf = (plane: Plane): Plane => ({ ...plane, samples: plane.samples.slice() });

/** The whole code nearest to a value, inside what the depth can hold. */
export const codeOf = (value: number, top: number): number => Math.max(0, Math.min(top, Math.round(value)));

/** Luma samples for one sample of a plane, across and down. */
export const subsampling = (picture: Picture, plane: number): { kx: number; ky: number } => {
  const [luma] = picture.planes;
  const { width, height } = picture.planes[plane];
  return { kx: Math.round(luma.width / width), ky: Math.round(luma.height / height) };
};
