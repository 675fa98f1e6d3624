import type { ClipFacts } from '#terms';
import type { Plane } from '../picture/frame.js';
import { planeScale } from '../picture/signal.js';
import { LANCZOS_LOBES, lanczosOf, resized } from '../treatments/resize.js';
import { blankLike, codeOf, type Picture } from '../treatments/sequence.js';
import { warped, type RowMap } from '../treatments/warp.js';
import type { Placement } from './placement.js';

/** What lies within this much of its own place is left there: to draw it anew would only soften it. */
const IN_PLACE_PX = 0.02;

/** A picture and what is known of its clip. */
export interface Shot {
  readonly picture: Picture;
  readonly clip: ClipFacts;
}

/** Whether a placement leaves every pixel where it is. @param within px of the repaired picture */
export const isInPlace = (
  placement: Placement,
  original: Pick<ClipFacts, 'width' | 'height'>,
  repaired: Pick<ClipFacts, 'width' | 'height'>,
  within = 2 * IN_PLACE_PX,
): boolean => {
  const { a, b, dx, dy } = placement;
  const half = original.width / 2;
  return (
    original.width === repaired.width &&
    original.height === repaired.height &&
    Math.hypot(dx, dy) + half * Math.hypot(a - 1, b) < within
  );
};

/**
 * A repaired picture as it lies over its original: the size, the samples of colour, the depth and the range of the original.
 * Where it shows nothing, the original stands.
 */
export const registered = (repaired: Shot, placement: Placement, original: Shot): Picture => {
  const same = asStored(repaired, original);
  if (isInPlace(placement, original.clip, repaired.clip)) return same;
  const [luma] = original.picture.planes;
  // The planes have the size of the original now.
  const k = luma.width / repaired.picture.planes[0].width;
  const [a, b, dx, dy] = [placement.a * k, placement.b * k, placement.dx * k, placement.dy * k];
  const [cx, cy] = [(luma.width - 1) / 2, (luma.height - 1) / 2];
  const map: RowMap = (row, place) => {
    const v = row - cy;
    place.x = cx - a * cx - b * v + dx;
    place.y = cy - b * cx + a * v + dy;
    place.dx = a;
    place.dy = b;
  };
  const tops = original.picture.planes.map((_, p) => planeScale(original.clip, p).top);
  return warped(same, map, tops, original.picture);
};

/** The planes of a repaired picture at the sizes, the depth and the range of the original's. */
const asStored = (repaired: Shot, original: Shot): Picture => ({
  planes: original.picture.planes.map((like, p) => {
    const plane = repaired.picture.planes[p];
    // A file without colour has none to compare.
    if (!plane) return like;
    const [from, to] = [planeScale(repaired.clip, p), planeScale(original.clip, p)];
    const sameSize = plane.width === like.width && plane.height === like.height;
    const sameCodes = from.black === to.black && from.span === to.span;
    if (sameSize && sameCodes && plane.samples.constructor === like.samples.constructor) return plane;
    return recoded(plane, like, (code) =>
      codeOf(((code - from.black) / from.span) * to.span + to.black, to.top),
    );
  }),
});

const recoded = (plane: Plane, like: Plane, code: (from: number) => number): Plane => {
  const out = blankLike(like);
  const samples =
    plane.width === like.width && plane.height === like.height
      ? plane.samples
      : resized({ ...plane, samples: Float32Array.from(plane.samples) }, like, lanczosOf, LANCZOS_LOBES)
          .samples;
  for (let i = 0; i < out.samples.length; i++) out.samples[i] = code(samples[i]);
  return out;
};
