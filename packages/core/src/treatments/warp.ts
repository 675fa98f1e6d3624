import { rounded } from '../maths/round.js';
import { lanczos } from '../measures/noise/resample.js';
import type { Plane } from '../picture/frame.js';
import { treatmentKernels } from './memory.js';
import { blankLike, codeOf, subsampling, type Picture } from './sequence.js';
import { BLOCK_PX, type BlockMotion } from './study.js';

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

/** Nodes of the net that shows how a picture is bent, across and down. */
export const MESH = { columns: 17, rows: 10 } as const;

/** How far the nodes of a net over the new picture lie in the old one: across, down, row by row. Luma pixels. */
export const meshOf = ({ planes: [{ width, height }] }: Picture, map: RowMap): number[] => {
  const place: RowPlace = { x: 0, y: 0, dx: 1, dy: 0 };
  const nodes: number[] = [];
  for (let r = 0; r < MESH.rows; r++) {
    const y = ((height - 1) * r) / (MESH.rows - 1);
    map(y, place);
    for (let c = 0; c < MESH.columns; c++) {
      const x = ((width - 1) * c) / (MESH.columns - 1);
      nodes.push(rounded(place.x + place.dx * x - x, 2), rounded(place.y + place.dy * x - y, 2));
    }
  }
  return nodes;
};

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
    return warping().draw(plane, own, tops[p], code, other);
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

  /**
   * Reads a plane along lines: each piece of a row has a place of its own.
   * @param pieces told a row, calls back with the first sample of a piece, how many there are, and where it lies
   */
  read(
    plane: Plane,
    pieces: (row: number, read: (first: number, count: number, place: RowPlace) => void) => void,
  ): Float32Array {
    const { width, height } = plane;
    const { from, table, stride, row, count } = this.put(plane, width * height);
    for (let v = 0; v < height; v++)
      pieces(v, (first, many, { x, y, dx, dy }) =>
        this.memory.run.warpRow(
          from,
          stride,
          width,
          height,
          x,
          y,
          dx,
          dy,
          many,
          table,
          row + 4 * (v * width + first),
        ),
      );
    return this.memory.get(row, count);
  }

  /** Puts a plane with its margin into the kernel's memory, beside the weights and room for what is read. */
  private put(plane: Plane, count: number) {
    const { memory, weights } = this;
    const stride = plane.width + 2 * MARGIN;
    memory.reserve(stride * (plane.height + 2 * MARGIN) + weights.length + count, 3);
    const table = memory.put(weights);
    const from = memory.put(withMargin(plane)) + 4 * (MARGIN * stride + MARGIN);
    return { table, from, stride, row: memory.room(count), count };
  }

  draw(plane: Plane, map: RowMap, top: number, code: number | null, other: Plane | null): Plane {
    const { memory } = this;
    const { width, height } = plane;
    const { from, table, stride, row } = this.put(plane, width);
    const out = blankLike(plane);
    const place: RowPlace = { x: 0, y: 0, dx: 1, dy: 0 };
    for (let v = 0; v < height; v++) {
      map(v, place);
      const { x, y, dx, dy } = place;
      memory.run.warpRow(from, stride, width, height, x, y, dx, dy, width, table, row);
      const at = v * width;
      // All of it, where what lies outside is the picture as it ends.
      const [first, end] =
        code === null && other === null
          ? [0, width]
          : bothOf(seenAlong(x, dx, width, width), seenAlong(y, dy, height, width));
      putCodes(out.samples, at, memory.get(row, width), first, end, top);
      if (other) {
        out.samples.set(other.samples.subarray(at, at + first), at);
        out.samples.set(other.samples.subarray(at + end, at + width), at + end);
      } else if (code !== null) {
        out.samples.fill(code, at, at + first);
        out.samples.fill(code, at + end, at + width);
      }
    }
    return out;
  }
}

type Run = readonly [first: number, end: number];

/** Of steps along a line, those that lie on an axis of so many samples, half a sample beyond its ends included. */
const seenAlong = (from: number, step: number, length: number, steps: number): Run => {
  const isSeen = (u: number): boolean => from + step * u >= -0.5 && from + step * u <= length - 0.5;
  if (step === 0) return isSeen(0) ? [0, steps] : [0, 0];
  const ends = [(-0.5 - from) / step, (length - 0.5 - from) / step];
  let first = Math.max(0, Math.min(steps, Math.floor(Math.min(...ends))));
  let end = Math.max(first, Math.min(steps, Math.ceil(Math.max(...ends)) + 1));
  while (first < end && !isSeen(first)) first++;
  while (end > first && !isSeen(end - 1)) end--;
  return [first, end];
};

const bothOf = (a: Run, b: Run): Run => {
  const first = Math.max(a[0], b[0]);
  const end = Math.min(a[1], b[1]);
  return end > first ? [first, end] : [0, 0];
};

/** Rounds values into codes from 0 to the highest. */
const putCodes = (
  samples: Plane['samples'],
  at: number,
  values: Float32Array,
  first: number,
  end: number,
  top: number,
): void => {
  for (let u = first; u < end; u++) samples[at + u] = codeOf(values[u], top);
};

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
const warping = (): Warp => (warp ??= new Warp());

/**
 * A plane of another frame as it lies in this one: its blocks are carried along their motion, which is linear between the
 * middles of neighbouring blocks.
 * @param motion of the blocks of this frame into the other one
 * @param share of that motion, where a frame between both is meant
 * @returns codes with fractions, row by row
 */
export const carried = (
  plane: Plane,
  { columns, rows, dx, dy }: BlockMotion,
  { kx, ky }: { readonly kx: number; readonly ky: number },
  share = 1,
): Float32Array => {
  const [across, down] = [BLOCK_PX / kx, BLOCK_PX / ky];
  return warping().read(plane, (row, read) => {
    const at = Math.max(0, Math.min(rows - 1, (row + 0.5) / down - 0.5));
    const above = Math.min(rows - 1, Math.floor(at));
    const below = Math.min(rows - 1, above + 1);
    const part = at - above;
    const motionAt = (k: Float32Array, column: number): number =>
      share * ((1 - part) * k[above * columns + column] + part * k[below * columns + column]);
    for (let column = -1; column < columns; column++) {
      const [left, right] = [Math.max(0, column), Math.min(columns - 1, column + 1)];
      const middle = (column + 0.5) * across - 0.5;
      const first = Math.max(0, Math.ceil(middle));
      const end = Math.min(plane.width, Math.ceil(middle + across));
      if (end <= first) continue;
      const [x0, x1] = [motionAt(dx, left) / kx, motionAt(dx, right) / kx];
      const [y0, y1] = [motionAt(dy, left) / ky, motionAt(dy, right) / ky];
      const [stepX, stepY] = [(x1 - x0) / across, (y1 - y0) / across];
      read(first, end - first, {
        x: first + x0 + stepX * (first - middle),
        y: row + y0 + stepY * (first - middle),
        dx: 1 + stepX,
        dy: stepY,
      });
    }
  });
};
