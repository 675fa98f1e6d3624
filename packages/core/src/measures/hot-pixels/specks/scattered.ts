import { SEVERAL } from '../../../maths/enough.js';
import { BY_CHANCE, sigmasBeyond } from '../../../maths/chance.js';
import { mean } from '../../../maths/robust.js';
import type { Place } from '../place.js';

/**
 * Whether places lie anywhere in the picture, as dirt does, and not in a crowd, as the parts of one thing that moves: by the
 * mean distance to the nearest of the others, against that of places that lie anywhere (Clark and Evans 1954, with Donnelly's
 * 1978 correction for places near the edges).
 * @param places within the picture, px
 * @param size of the part of the picture that they may lie in, px
 */
export const areScattered = (
  places: readonly Place[],
  { width, height }: { readonly width: number; readonly height: number },
): boolean => {
  const n = places.length;
  if (n < SEVERAL) return true;
  const nearest = places.map(({ x, y }, i) =>
    places.reduce(
      (least, p, j) => (i === j ? least : Math.min(least, Math.hypot(p.x - x, p.y - y))),
      Infinity,
    ),
  );
  const [area, edge] = [width * height, 2 * (width + height)];
  const expected = 0.5 * Math.sqrt(area / n) + (edge * (0.0514 + 0.041 / Math.sqrt(n))) / n;
  const error = Math.sqrt((0.0703 * area) / n ** 2 + 0.037 * edge * Math.sqrt(area / n ** 5));
  return mean(nearest) > expected - sigmasBeyond(BY_CHANCE) * error;
};
