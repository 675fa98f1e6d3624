import { lanczos } from '../measures/noise/resample.js';
import type { Plane } from '../picture/frame.js';
import { treatmentKernels } from './memory.js';
import { blankLike, codeOf, subsampling, type Picture } from './sequence.js';

/** Where a row of the new picture begins in the old one, luma pixels, and how far one step along it goes there. */
export interface RowPlace {
  x: number;
  y: number;
  dx: number;
  dy: number;
}

/** Says where a row lies. @param y row, luma pixels, whole or not */
export type RowMap = (y: number, place: RowPlace) => void;

/** What stands where the old picture shows nothing: codes for each plane, the picture as it ends, or another picture. */
export type Outside = readonly number[] | 'edge' | Picture;

/** Samples about a plane in the kernel's memory, so that the filter never leaves it. */
const MARGIN = 8;
/** Weights for each place between two samples, with two of nothing behind. */
const WIDE = 8;

/**
 * Draws a picture anew from another place: every row along a line of the old one, read by a Lanczos filter of three lobes
 * (Duchon 1979). About 45 operations a sample.
 * @param picture planes as they are stored; chroma lies with every second luma sample of a row, between two rows
 */
export const warped = (
  picture: Picture,
  map: RowMap,
  tops: readonly number[],
  outside: Outside,
): Picture => ({
  planes: picture.planes.map((plane, p) => {
    const { kx, ky } = subsampling(picture, p);
    const middle = (ky - 1) / 2;
    const own: RowMap = (y, place) => {
      map(ky * y + middle, place);
      place.x /= kx;
      place.y = (place.y - middle) / ky;
      // One step of a chroma row is as many luma pixels as it has of them.
      place.dy *= kx / ky;
    };
    const code = Array.isArray(outside) ? (outside as readonly number[])[p] : null;
    const other = typeof outside === 'object' && 'planes' in outside ? outside.planes[p] : null;
    return (warp ??= new Warp()).draw(plane, own, tops[p], code, other);
  }),
});

/** A plane drawn anew; a {@link RowMap} in its own samples. */
class Warp {
  private readonly memory = treatmentKernels();
  private readonly phases = this.memory.run.PHASES.value;
  private readonly weights = new Float32Array((this.phases + 1) * WIDE);

  constructor() {
    for (let p = 0; p <= this.phases; p++) this.weights.set(lanczos(p / this.phases), p * WIDE);
  }

  draw(plane: Plane, map: RowMap, top: number, code: number | null, other: Plane | null): Plane {
    const { memory, weights } = this;
    const { width, height } = plane;
    const stride = width + 2 * MARGIN;
    memory.reserve(stride * (height + 2 * MARGIN) + weights.length + width, 3);
    const table = memory.put(weights);
    const padded = memory.put(withMargin(plane));
    const from = padded + 4 * (MARGIN * stride + MARGIN);
    const row = memory.room(width);
    const out = blankLike(plane);
    const place: RowPlace = { x: 0, y: 0, dx: 1, dy: 0 };
    for (let v = 0; v < height; v++) {
      map(v, place);
      const { x, y, dx, dy } = place;
      memory.run.warpRow(from, stride, width, height, x, y, dx, dy, width, table, row);
      const read = memory.get(row, width);
      for (let u = 0, i = v * width; u < width; u++, i++) {
        const [sx, sy] = [x + dx * u, y + dy * u];
        const seen = sx >= -0.5 && sy >= -0.5 && sx <= width - 0.5 && sy <= height - 0.5;
        if (seen || (code === null && other === null)) out.samples[i] = codeOf(read[u], top);
        else out.samples[i] = other ? other.samples[i] : code!;
      }
    }
    return out;
  }
}

/** A plane that goes on beyond its edges as it ends. */
const withMargin = ({ width, height, samples }: Plane): Float32Array => {
  const stride = width + 2 * MARGIN;
  const out = new Float32Array(stride * (height + 2 * MARGIN));
  for (let y = 0; y < height + 2 * MARGIN; y++) {
    const from = Math.max(0, Math.min(height - 1, y - MARGIN)) * width;
    const at = y * stride;
    for (let x = 0; x < MARGIN; x++) {
      out[at + x] = samples[from];
      out[at + MARGIN + width + x] = samples[from + width - 1];
    }
    out.set(samples.subarray(from, from + width), at + MARGIN);
  }
  return out;
};

let warp: Warp | null = null;
