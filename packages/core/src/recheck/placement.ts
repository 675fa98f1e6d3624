import { median } from '../maths/robust.js';
import { cameraBetween } from '../motion/between.js';
import { halve, type Level } from '../picture/pyramid.js';

/**
 * Where a point of the original is found in the repaired picture, both counted from their middles:
 * (a·x − b·y + dx, b·x + a·y + dy). Pixels of each at its own size.
 */
export interface Placement {
  readonly a: number;
  readonly b: number;
  readonly dx: number;
  readonly dy: number;
}

/** Both pictures lie on each other, sizes aside. */
export const centred = (scale: number): Placement => ({ a: scale, b: 0, dx: 0, dy: 0 });

/** How much larger the picture is shown. */
export const scaleOf = ({ a, b }: Placement): number => Math.hypot(a, b);

/** By how much it is turned, degrees, clockwise on the screen. */
export const turnOf = ({ a, b }: Placement): number => (Math.atan2(b, a) * 180) / Math.PI;

/** Size of a picture, px. */
export interface Size {
  readonly width: number;
  readonly height: number;
}

/** Picture of the original that is gone, % of the axis that lost more. */
export const cropOf = (placement: Placement, original: Size, repaired: Size): number => {
  const scale = scaleOf(placement);
  const gone = (has: number, shows: number): number => Math.max(0, 1 - shows / (scale * has));
  return 100 * Math.max(gone(original.width, repaired.width), gone(original.height, repaired.height));
};

/** The placement of pictures at other sizes: `original` and `repaired` say how many times larger each of them is. */
export const atSizes = ({ a, b, dx, dy }: Placement, original: number, repaired: number): Placement => {
  const k = repaired / original;
  return { a: a * k, b: b * k, dx: dx * repaired, dy: dy * repaired };
};

/** The repaired picture as it lies over the original; what it does not show is 0 in `seen`. Bilinear. */
export const laidOver = (
  repaired: Level,
  { a, b, dx, dy }: Placement,
  { width, height }: Size,
): { readonly level: Level; readonly seen: Uint8Array } => {
  const samples = new Float32Array(width * height);
  const seen = new Uint8Array(width * height);
  const [cx, cy] = [(width - 1) / 2, (height - 1) / 2];
  const [rx, ry] = [(repaired.width - 1) / 2, (repaired.height - 1) / 2];
  const [right, bottom] = [repaired.width - 1, repaired.height - 1];
  const from = repaired.samples;
  const stride = repaired.width;
  for (let y = 0, i = 0; y < height; y++) {
    const startX = rx - a * cx - b * (y - cy) + dx;
    const startY = ry - b * cx + a * (y - cy) + dy;
    for (let x = 0; x < width; x++, i++) {
      const px = startX + a * x;
      const py = startY + b * x;
      if (px >= 0 && py >= 0 && px <= right && py <= bottom) seen[i] = 1;
      const qx = px < 0 ? 0 : px > right ? right : px;
      const qy = py < 0 ? 0 : py > bottom ? bottom : py;
      const ix = qx < right ? qx | 0 : right - 1;
      const iy = qy < bottom ? qy | 0 : bottom - 1;
      const fx = qx - ix;
      const fy = qy - iy;
      const at = iy * stride + ix;
      samples[i] =
        (1 - fy) * ((1 - fx) * from[at] + fx * from[at + 1]) +
        fy * ((1 - fx) * from[at + stride] + fx * from[at + stride + 1]);
    }
  }
  return { level: { width, height, samples }, seen };
};

/** How alike two pictures are where both show something: their correlation, −1 to 1, brightness and contrast aside. */
export const likeness = (one: Level, other: Level, seen: Uint8Array): number => {
  let [n, x, y, xx, yy, xy] = [0, 0, 0, 0, 0, 0];
  for (let i = 0; i < seen.length; i++) {
    if (seen[i] === 0) continue;
    const u = one.samples[i];
    const v = other.samples[i];
    n++;
    x += u;
    y += v;
    xx += u * u;
    yy += v * v;
    xy += u * v;
  }
  if (n < seen.length / 8) return -1;
  const [sx, sy] = [xx - (x * x) / n, yy - (y * y) / n];
  return sx > 0 && sy > 0 ? (xy - (x * y) / n) / Math.sqrt(sx * sy) : 0;
};

/** How much larger a picture may be shown than it came, tried one after the other: a registration finds what lies between. */
const ENLARGED = [1, 1.06, 1.13, 1.21, 1.3, 1.4, 1.52, 0.94, 0.88];
/** A placement this good needs no other guess. */
const GOOD = 0.97;

/** Where a picture lies, and how sure that is. */
export interface Placed {
  readonly placement: Placement;
  /** Correlation of what both show, −1 to 1. */
  readonly likeness: number;
}

/** A placement that was made exact. */
export interface Refined extends Placed {
  /** Standard error at the middle of an edge, pixels of the original. */
  readonly error: number;
}

/**
 * Finds a picture in another, of the same scene or not.
 * @param original, repaired luma, no larger than a few hundred pixels
 */
export const place = (original: Level, repaired: Level): Placed => {
  const own = repaired.width / original.width;
  let best: Placed = { placement: centred(own), likeness: -1 };
  for (const enlarged of ENLARGED) {
    const found = refined(original, repaired, centred(own * enlarged), 2);
    if (found && found.likeness > best.likeness) best = found;
    if (best.likeness >= GOOD) break;
  }
  return best;
};

/**
 * Makes a placement exact: the repaired picture is laid over the original and registered.
 * @param laid how it lies there from the start, where that is at hand
 * @returns `null` where the two cannot be registered
 */
export const refined = (
  original: Level,
  repaired: Level,
  from: Placement,
  passes = 2,
  laid = laidOver(repaired, from, original).level,
): Refined | null => {
  let placement = from;
  let [sure, error] = [false, Infinity];
  for (let pass = 0; pass < passes; pass++) {
    const level = pass === 0 ? laid : laidOver(repaired, placement, original).level;
    const found = cameraBetween(original, level);
    ({ sure, error } = found);
    const { dx, dy, zoom, turn } = found.motion;
    const { a, b } = placement;
    placement = {
      a: a * (1 + zoom) - b * turn,
      b: b * (1 + zoom) + a * turn,
      dx: placement.dx + a * dx - b * dy,
      dy: placement.dy + b * dx + a * dy,
    };
  }
  const scale = scaleOf(placement);
  if (!sure || !(scale > 0.1 && scale < 10)) return null;
  const { level, seen } = laidOver(repaired, placement, original);
  return { placement, likeness: likeness(original, level, seen), error };
};

/** The placement in the middle of several. */
export const middleOf = (found: readonly Placement[]): Placement => {
  const of = (key: keyof Placement): number => median(found.map((p) => p[key]));
  return { a: of('a'), b: of('b'), dx: of('dx'), dy: of('dy') };
};

/** How far each of several placements lies from another, at the middle of the edges; pixels. @param width of the original */
export const awayFrom = ({ a, b, dx, dy }: Placement, found: readonly Placement[], width: number): number[] =>
  found.map((p) => Math.hypot(p.dx - dx, p.dy - dy, (width / 2) * (p.a - a), (width / 2) * (p.b - b)));

/** A picture at most so wide, by halving, and how many times it was halved. */
export const noWiderThan = (picture: Level, most: number): { level: Level; halved: number } => {
  let [level, halved] = [picture, 0];
  while (level.width > most) [level, halved] = [halve(level), halved + 1];
  return { level, halved };
};
