import { ENOUGH } from '../../../maths/enough.js';
import { kernels } from '../../../kernels/kernels.js';
import { median } from '../../../maths/robust.js';
import type { Level } from '../../../picture/pyramid.js';

/** How far about its place the neighbouring frames are searched for what could be the same thing, pixels of the small view. */
const ABOUT = 5;
/** Nearer to the edge a neighbouring frame may not show the place. */
export const EDGE = ABOUT + 2;
const NOISE_STEP = 97;
const RING = 3;

/** What a frame shows at a place: codes. */
type ValueAt = (index: number) => number;

/** Three frames one after the other, and how the scene moves from row to row between them, whole pixels. */
interface Neighbours {
  readonly previous: Level;
  readonly middle: Level;
  readonly next: Level;
  readonly toMiddle: (y: number) => { dx: number; dy: number };
  readonly toNext: (y: number) => { dx: number; dy: number };
}

/**
 * Places of the middle frame that nothing in either neighbour looks like.
 * @param gains light of the middle frame over that of the one before and the one after
 * @param threshold codes that they stand out by
 * @returns indices in the frame
 */
export const standingAlone = (
  { previous, middle, next, toMiddle, toNext }: Neighbours,
  [ga, gb]: readonly number[],
  black: number,
  threshold: number,
  leftOut: Uint8Array | null,
): number[] => {
  const { width, height } = middle;
  const candidates: number[] = [];
  const edge = EDGE;
  const kept = {
    previous: kernels.keep(previous.samples),
    middle: kernels.keep(middle.samples),
    next: kernels.keep(next.samples),
  };
  kernels.reserve(width, 1);
  const at = { ...kept, found: kernels.room(width) };
  for (let y = edge; y < height - edge; y++) {
    const a = toMiddle(y);
    const b = toNext(y);
    const [ya, yb] = [y - a.dy, y + b.dy];
    if (ya < edge || yb < edge || ya >= height - edge || yb >= height - edge) continue;
    const from = Math.max(edge, edge + a.dx, edge - b.dx);
    const to = Math.min(width - edge, width - edge + a.dx, width - edge - b.dx);
    const found = kernels.run.standsOut(
      at.middle + 4 * (y * width + from),
      at.previous + 4 * (ya * width + from - a.dx),
      at.next + 4 * (yb * width + from + b.dx),
      to - from,
      ga,
      gb,
      black,
      threshold,
      at.found,
    );
    for (let k = 0; k < found; k++) {
      const x = from + kernels.whole(at.found + 4 * k);
      if (leftOut?.[y * width + x]) continue;
      const v = middle.samples[y * width + x] - black;
      const bright = v > ga * (previous.samples[ya * width + x - a.dx] - black);
      if (!standsAlone(previous, x - a.dx, ya, v, ga, black, bright, threshold / 2)) continue;
      if (!standsAlone(next, x + b.dx, yb, v, gb, black, bright, threshold / 2)) continue;
      candidates.push(y * width + x);
    }
  }
  return candidates;
};

/** Rows and columns at the edge that have no counterpart in a picture that is shifted. */
const MARGIN = 8;

/** By how much two pictures usually differ once one is laid over the other, codes; `null` where too little overlaps. */
export const usualDifference = (
  { width, height, samples }: Level,
  before: Level,
  shift: { dx: number; dy: number },
  gainOfBefore: number,
  black: number,
): number | null => {
  const differences: number[] = [];
  for (let i = width * MARGIN + MARGIN; i < width * (height - MARGIN) - MARGIN; i += NOISE_STEP) {
    const j = i - shift.dy * width - shift.dx;
    if (j >= 0 && j < before.samples.length)
      differences.push(Math.abs(samples[i] - black - gainOfBefore * (before.samples[j] - black)));
  }
  return differences.length < ENOUGH ? null : median(differences);
};

/** Light of one picture over another's, by their means. */
export const gain = (a: Level, b: Level, black: number): number =>
  Math.max(0.25, Math.min(4, lightOf(a, black) / lightOf(b, black)));

/** Every picture is set against those before and after it. */
const lights = new WeakMap<Level, number>();

const lightOf = (level: Level, black: number): number => {
  const known = lights.get(level);
  if (known !== undefined) return known;
  let light = 1;
  for (let i = 0; i < level.samples.length; i += 61) light += level.samples[i] - black;
  lights.set(level, light);
  return light;
};

/** Whether nothing about a place of a neighbouring frame looks like the pixel. */
const standsAlone = (
  { width, samples }: Level,
  x: number,
  y: number,
  value: number,
  gainOfOther: number,
  black: number,
  bright: boolean,
  margin: number,
): boolean => {
  for (let v = y - ABOUT; v <= y + ABOUT; v++)
    for (let i = v * width + x - ABOUT, end = i + 2 * ABOUT; i <= end; i++) {
      const other = gainOfOther * (samples[i] - black);
      if (bright ? other > value - margin : other < value + margin) return false;
    }
  return true;
};

/** Mean difference from a neighbouring frame about a place, codes. */
export const netOf = (samples: ArrayLike<number>, side: ValueAt, index: number, width: number): number => {
  let sum = 0;
  for (let v = -1; v <= 1; v++)
    for (let u = -1; u <= 1; u++) {
      const i = index + v * width + u;
      sum += samples[i] - side(i);
    }
  return sum / 9;
};

/**
 * By how much a neighbouring frame shows something at a place that is dark, or light, as a speck there is: codes.
 * @param index of the place
 * @param contrast of the speck; its sign tells which
 */
export const standsOut = (side: ValueAt, index: number, width: number, contrast: number): number => {
  const sign = Math.sign(contrast);
  const ring: number[] = [];
  let most = -Infinity;
  for (let v = -RING; v <= RING; v++)
    for (let u = -RING; u <= RING; u++) {
      const far = Math.max(Math.abs(u), Math.abs(v));
      if (far > 1 && far < RING) continue;
      const value = sign * side(index + v * width + u);
      if (far === RING) ring.push(value);
      else most = Math.max(most, value);
    }
  return most - median(ring);
};
