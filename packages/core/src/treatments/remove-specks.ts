import { boxAbout, connectedTo, shareIn } from '../maths/components.js';
import { planeScale, lumaScale } from '../picture/signal.js';
import type { Runner } from './runner.js';
import { codeOf, copyOf, subsampling, type Picture } from './sequence.js';
import { numberOf, rowsOf } from './settings.js';
import type { Study } from './study.js';
import { carried } from './warp.js';

/** What stands out by this share of the threshold beside a speck belongs to it: its soft edge. */
const SOFT_EDGE = 0.4;
/** The soft edge reaches so far, luma pixels. */
const EDGE_PX = 3;
/** Where the frames on both sides differ in more than this share of what lies about a place, something else passes there. */
const UNQUIET = 0.12;
const ABOUT_PX = 5;
/** Most frames in a row in which one thing is taken for a speck. */
const MOST_FRAMES = 3;

/** What stands for a frame or a few and is small is taken from the frames about it, carried along the movement. */
export const removeSpecks: Runner = {
  treatment: 'removeSpecks',
  settings: {
    frames: { kind: 'rows', columns: ['frame'] },
    thresholdPct: { kind: 'number', unit: '%', least: 0.5, most: 40, step: 0.5, otherwise: 4 },
    largestAreaPx: { kind: 'number', unit: 'px²', least: 1, most: 20_000, step: 1, otherwise: 400 },
    framesEachSide: { kind: 'number', unit: 'frames', least: 1, most: MOST_FRAMES, step: 1, otherwise: 1 },
    /** The frames about it may differ by so much where something is taken: what moves by itself is spared. */
    spareMotionPct: { kind: 'number', unit: '%', least: 0.5, most: 40, step: 0.5, otherwise: 3 },
    /** A hard edge must be exceeded by this share of its height. */
    spareEdgesPct: { kind: 'number', unit: '%', least: 0, most: 200, step: 5, otherwise: 60 },
  },
  swept: 'thresholdPct',
  sweepAbout: (value) => [0.5, 0.75, 1, 1.5, 2.5].map((k) => Math.max(0.5, Math.round(2 * k * value) / 2)),
  takesStructure: true,
  judgedOverFrames: 24,
  neighbours: (settings) => numberOf(settings, 'framesEachSide'),
  begin: (study, settings) => {
    const { firstFrame, clip, pictures } = study.sequence;
    const listed = new Set(rowsOf(settings, 'frames').map(([frame]) => frame));
    const found = new Map<number, Taken | null>();
    const takenFrom = (index: number): Taken | null => {
      if (listed.size > 0 && !listed.has(firstFrame + index)) return null;
      if (!found.has(index)) found.set(index, specksIn(study, index, settings));
      return found.get(index)!;
    };
    return {
      mask: (index) => takenFrom(index)?.mask ?? new Uint8Array(pictures[index].planes[0].samples.length),
      treat: (index) => {
        const picture = pictures[index];
        const taken = takenFrom(index);
        if (!taken) return { planes: picture.planes.map(copyOf) };
        return {
          planes: picture.planes.map((plane, p) => {
            const { kx, ky } = subsampling(picture, p);
            const { top } = planeScale(clip, p);
            const [before, after] = sidesOf(study, index, taken.apart, p);
            const out = copyOf(plane);
            for (let y = 0, i = 0; y < plane.height; y++)
              for (let x = 0; x < plane.width; x++, i++)
                if (isIn(taken.mask, picture, x * kx, y * ky, kx, ky))
                  out.samples[i] = codeOf((before[i] + after[i]) / 2, top);
            return out;
          }),
        };
      },
    };
  },
};

/** What is taken from a frame: 255 where, row by row of luma; and how far off the frames are that it is filled from. */
interface Taken {
  readonly mask: Uint8Array;
  readonly apart: number;
}

/** The frames so far before and after one, as they lie in it. */
const sidesOf = (
  study: Study,
  index: number,
  apart: number,
  p: number,
): readonly [before: Float32Array, after: Float32Array] => {
  const { pictures } = study.sequence;
  const sampled = subsampling(pictures[index], p);
  const from = (other: number): Float32Array =>
    carried(pictures[other].planes[p], study.motion(index, other), sampled);
  return [from(index - apart), from(index + apart)];
};

const specksIn = (study: Study, index: number, settings: Parameters<typeof numberOf>[0]): Taken | null => {
  const { clip, pictures } = study.sequence;
  const { span } = lumaScale(clip);
  const [luma] = pictures[index].planes;
  const { width, height, samples } = luma;
  const share = (name: string): number => numberOf(settings, name) / 100;
  const [threshold, spareMotion, spareEdges] = [
    share('thresholdPct') * span,
    share('spareMotionPct') * span,
    share('spareEdgesPct'),
  ];
  // What stands for several frames is told by those that are farther off, and filled from them, where there are any.
  const apart = Math.min(numberOf(settings, 'framesEachSide'), index, pictures.length - 1 - index);
  if (apart === 0) return null;
  const [before, after] = sidesOf(study, index, apart, 0);
  const off = new Float32Array(samples.length);
  const inner = 2;
  for (let y = inner; y < height - inner; y++)
    for (let x = inner; x < width - inner; x++) {
      const i = y * width + x;
      const [b, a] = [samples[i] - before[i], samples[i] - after[i]];
      if (b * a <= 0 || Math.abs(b - a) > spareMotion) continue;
      let [low, high] = [Infinity, -Infinity];
      for (let v = -width; v <= width; v += width)
        for (let u = -1; u <= 1; u++) {
          const m = before[i + v + u];
          if (m < low) low = m;
          if (m > high) high = m;
        }
      const stands = Math.min(Math.abs(b), Math.abs(a)) - spareEdges * (high - low);
      if (stands > SOFT_EDGE * threshold) off[i] = stands;
    }
  const isQuiet = (members: readonly number[]): boolean =>
    shareIn(
      boxAbout(members, width, height, ABOUT_PX),
      width,
      (i) => Math.abs(before[i] - after[i]) > spareMotion,
    ) <= UNQUIET;
  return { mask: small(off, width, height, threshold, numberOf(settings, 'largestAreaPx'), isQuiet), apart };
};

/** Marks what stands out by more than a threshold and is no larger than so many pixels, with its soft edge. */
const small = (
  off: Float32Array,
  width: number,
  height: number,
  threshold: number,
  largest: number,
  isQuiet: (members: readonly number[]) => boolean,
): Uint8Array => {
  const mask = new Uint8Array(off.length);
  const seen = new Uint8Array(off.length);
  for (let i = 0; i < off.length; i++) {
    if (off[i] <= threshold || seen[i]) continue;
    seen[i] = 1;
    const whole = connectedTo(i, width, height, (k) => {
      if (off[k] === 0 || seen[k]) return false;
      seen[k] = 1;
      return true;
    });
    if (whole.filter((k) => off[k] > threshold).length > largest || !isQuiet(whole)) continue;
    for (const k of whole) grow(mask, k, width, height);
  }
  return mask;
};

const grow = (mask: Uint8Array, at: number, width: number, height: number): void => {
  const [x, y] = [at % width, Math.floor(at / width)];
  for (let v = Math.max(0, y - EDGE_PX); v <= Math.min(height - 1, y + EDGE_PX); v++)
    for (let u = Math.max(0, x - EDGE_PX); u <= Math.min(width - 1, x + EDGE_PX); u++)
      if ((u - x) ** 2 + (v - y) ** 2 <= EDGE_PX * EDGE_PX) mask[v * width + u] = 255;
};

/** Whether any luma sample that a sample of a plane stands for is marked. */
const isIn = (
  mask: Uint8Array,
  { planes: [luma] }: Picture,
  x: number,
  y: number,
  kx: number,
  ky: number,
): boolean => {
  for (let v = y; v < Math.min(luma.height, y + ky); v++)
    for (let u = x; u < Math.min(luma.width, x + kx); u++) if (mask[v * luma.width + u]) return true;
  return false;
};
