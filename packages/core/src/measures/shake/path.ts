import { quantile } from '../../maths/robust.js';
import { slowCourse } from '../../maths/smooth.js';
import { INTENDED_MOTION_HZ } from '../../motion/intended.js';
import type { CameraStep } from '../../motion/motion-analysis.js';
import type { CameraIntent } from '#terms';
import { whipsIn, type Whip } from './whips.js';

/** A camera whose whole path stays within this share of the width (RMS) is locked off. */
const LOCKED_OFF = 0.0003;
/** A pan goes at least this share of the width a second from where it began; a travelling camera, or a zoom, changes the scale by it. */
const LED_PER_SEC = 0.012;

/** One shot's camera path about the first frame, and the same split into what was meant and the rest. */
export interface ShotPath {
  readonly camera: CameraIntent;
  readonly intendedX: Float64Array;
  readonly intendedY: Float64Array;
  /** `NaN` in frames that show the frame before again, and where a whip throws the camera. Clip pixels; radians. */
  readonly jitterX: Float64Array;
  readonly jitterY: Float64Array;
  readonly jitterTurn: Float64Array;
  /** Of the size; 0 as it was meant. */
  readonly jitterZoom: Float64Array;
}

/**
 * Sums up the steps of one shot to a path and splits it.
 * @param steps into each frame of the shot; the first is not used, an unknown one is taken to be like its neighbours
 * @param repeated whether each frame shows the one before again
 * @param intent what the technician says the camera was meant to do
 */
export const splitPath = (
  steps: readonly (CameraStep | null)[],
  repeated: readonly boolean[],
  frameRate: number,
  width: number,
  intent: CameraIntent | undefined,
): ShotPath => {
  const sum = (of: (s: CameraStep) => number): Float64Array => {
    let at = 0;
    return Float64Array.from(steps, (_, f) => {
      if (f > 0) at += valueAt(steps, f, of);
      return repeated[f] ? NaN : at;
    });
  };
  const [x, y, turn, zoom] = [sum((s) => s.dx), sum((s) => s.dy), sum((s) => s.turn), sum((s) => s.zoom)];
  const seconds = steps.length / frameRate;
  const camera = intent ?? kindOf(x, y, zoom, seconds, frameRate, width);
  const whips = camera === 'locked-off' ? [] : whipsIn(x, y, frameRate, width);
  const course =
    camera === 'locked-off'
      ? (v: Float64Array) => new Float64Array(v.length).fill(quantile(v.filter(isKnown), 0.5))
      : (v: Float64Array) => courseBetween(v, whips, frameRate);
  const [intendedX, intendedY, meantTurn, meantZoom] = [course(x), course(y), course(turn), course(zoom)];
  const isThrown = (f: number): boolean => whips.some(({ from, to }) => f > from && f < to);
  const rest = (v: Float64Array, meant: Float64Array): Float64Array =>
    v.map((p, f) => (isThrown(f) ? NaN : p - meant[f]));
  return {
    camera,
    intendedX,
    intendedY,
    jitterX: rest(x, intendedX),
    jitterY: rest(y, intendedY),
    jitterTurn: rest(turn, meantTurn),
    jitterZoom: rest(zoom, meantZoom),
  };
};

/** The slow course of a path that goes on anew after each whip; through that it is the path itself. */
const courseBetween = (v: Float64Array, whips: readonly Whip[], frameRate: number): Float64Array => {
  const out = v.slice();
  const starts = [0, ...whips.map(({ to }) => to)];
  starts.forEach((start, k) => {
    const end = whips[k]?.from ?? v.length - 1;
    out.set(slowCourse(v.subarray(start, end + 1), frameRate, INTENDED_MOTION_HZ), start);
  });
  return out;
};

/** Whether a place of a path is known: NaN stands for one that is not. */
export const isKnown = (v: number): boolean => !Number.isNaN(v);

/** Root of the mean square of the values that are known, in their unit; 0 of none. */
export const rootMeanSquare = (values: Float64Array): number => {
  let [sum, count] = [0, 0];
  for (const v of values)
    if (isKnown(v)) {
      sum += v * v;
      count++;
    }
  return count > 0 ? Math.sqrt(sum / count) : 0;
};

/**
 * Linear crop, share of the side, that hides the edges once a frame is set back by its jitter: the shift takes twice
 * itself, and a turned rectangle of this aspect fits into itself only when it is made smaller.
 */
export const cropFor = (x: number, y: number, turn: number, width: number, height: number): number => {
  const aspect = Math.max(width / height, height / width);
  const turned = Math.cos(turn) + aspect * Math.abs(Math.sin(turn));
  const shifted = Math.max((2 * Math.abs(x)) / width, (2 * Math.abs(y)) / height);
  return Math.min(1, 1 - (1 - Math.min(1, shifted)) / turned);
};

const valueAt = (steps: readonly (CameraStep | null)[], f: number, of: (s: CameraStep) => number): number => {
  const here = steps[f];
  if (here) return of(here);
  const before = steps.slice(1, f).findLast((s) => s !== null);
  const after = steps.slice(f + 1).find((s) => s !== null);
  const known = [before, after].filter((s) => s !== undefined && s !== null);
  return known.length === 0 ? 0 : known.reduce((sum, s) => sum + of(s), 0) / known.length;
};

const kindOf = (
  x: Float64Array,
  y: Float64Array,
  zoom: Float64Array,
  seconds: number,
  frameRate: number,
  width: number,
): CameraIntent => {
  const about = (v: Float64Array): Float64Array => {
    const middle = quantile(v.filter(isKnown), 0.5);
    return v.map((p) => p - middle);
  };
  if (Math.hypot(rootMeanSquare(about(x)), rootMeanSquare(about(y))) < LOCKED_OFF * width)
    return 'locked-off';
  const [cx, cy, cz] = [x, y, zoom].map((v) => slowCourse(v, frameRate, INTENDED_MOTION_HZ / 2));
  const last = cx.length - 1;
  const led = Math.hypot(cx[last] - cx[0], cy[last] - cy[0]);
  if (Math.abs(cz[last] - cz[0]) > LED_PER_SEC * seconds) return 'travelling';
  if (led > LED_PER_SEC * width * seconds) return 'panning';
  return 'hand-held';
};
