import type { Shot } from '#terms';
import type { DetailKept } from './carried-detail.js';
import type { SoftFrames } from './descriptor.js';
import { kernels } from '../../kernels/kernels.js';
import { madSigma, median, quantile } from '../../maths/robust.js';
import type { CameraStep } from '../../motion/motion-analysis.js';
import type { Level } from '../../picture/pyramid.js';

/** Frames to each side that a frame is set against. */
const ABOUT = 30;
/** A frame with less than this share of its neighbours' fine detail (power) is soft, */
const SOFT = 0.7;
/** and so is one with less than this, nine tenths of their contrast, that stands out: a picture that is soft has less to lose. */
const SOFTER = 0.81;
/** It stands so many deviations out of its shot, whose detail is not taken to be steadier than this. */
const STANDS_OUT = 10;
const STEADY = 0.002;
/** A frame with at least this share is sharp. */
const SHARP = 0.85;
/** A sharp frame is near when it is at most this many frames away. */
const NEAR = 3;
/** A longer run has no sharp frames of the same content about it, and is longer than a jolt. */
const LONGEST_RECOVERABLE = 5;
/** A move blurs when it goes this much faster than usual, and this share of the width in a frame. */
const FASTER = 1.6;
const BLURRING = 0.0018;

/** Detail of two finenesses over coarse detail, along rows and down columns: what a blur takes away whatever the picture shows. */
export interface Detail {
  readonly x: number;
  readonly y: number;
  readonly middleX: number;
  readonly middleY: number;
}

const FINE = 1;
const MIDDLE = 2;
const COARSE = 5;
/** Keeps a blank picture from being divided by nothing. */
const NOTHING = 1e-9;
/**
 * The finest detail of a picture with few edges changes with where they fall between two pixels; what is twice as coarse
 * does not. A blur takes from both: where the middle detail keeps at least this share, the finest is not believed.
 */
const KEPT = 0.93;

/** Power of differences at three distances, from every other row. */
export const detailOf = ({ width, height, samples }: Level): Detail => {
  kernels.run.detail(kernels.keep(samples), width, height, FINE, MIDDLE, COARSE);
  const [fineX, middleX, coarseX, fineY, middleY, coarseY] = [0, 1, 2, 3, 4, 5].map(
    (i) => kernels.result(i) + NOTHING,
  );
  return ratios(fineX, middleX, coarseX, fineY, middleY, coarseY);
};

const ratios = (
  fineX: number,
  middleX: number,
  coarseX: number,
  fineY: number,
  middleY: number,
  coarseY: number,
): Detail => ({
  x: fineX / coarseX,
  y: fineY / coarseY,
  middleX: middleX / coarseX,
  middleY: middleY / coarseY,
});

/** The same, plainly. About 18 operations per pixel of every other row. */
export const detailOfPlain = ({ width, height, samples: s }: Level): Detail => {
  let [fineX, middleX, coarseX, fineY, middleY, coarseY] = Array.from({ length: 6 }, () => NOTHING);
  for (let y = COARSE; y < height - COARSE; y += 2)
    for (let i = y * width + COARSE, end = i + 4 * Math.floor((width - 2 * COARSE) / 4); i < end; i++) {
      const fx = s[i + 1] - s[i - 1];
      const mx = s[i + MIDDLE] - s[i - MIDDLE];
      const cx = s[i + COARSE] - s[i - COARSE];
      const fy = s[i + width] - s[i - width];
      const my = s[i + MIDDLE * width] - s[i - MIDDLE * width];
      const cy = s[i + COARSE * width] - s[i - COARSE * width];
      fineX += fx * fx;
      middleX += mx * mx;
      coarseX += cx * cx;
      fineY += fy * fy;
      middleY += my * my;
      coarseY += cy * cy;
    }
  return ratios(fineX, middleX, coarseX, fineY, middleY, coarseY);
};

/**
 * Detail of each frame over that of the sharper frames about it, 0–1 and a little above: of the whole picture, or of what the
 * camera carried along from frame to frame, whichever lost less. What passes is blurred or goes; what stays tells of the lens.
 * @param kept by what was carried into each frame; `null` where that is not known, and the whole picture speaks alone
 */
export const relativeDetail = (
  details: readonly Detail[],
  shots: readonly Shot[],
  kept: readonly (DetailKept | null)[] = [],
): Float64Array => {
  const out = new Float64Array(details.length).fill(1);
  const carried = carriedAlong(details, kept);
  for (const { startFrame, endFrame } of shots)
    for (let f = startFrame; f <= Math.min(endFrame, details.length - 1); f++) {
      const [from, to] = [Math.max(startFrame, f - ABOUT), Math.min(endFrame, f + ABOUT) + 1];
      const ofSharper = <Key extends string>(all: readonly Record<Key, number>[], key: Key): number =>
        all[f][key] /
        Math.max(
          1e-9,
          quantile(
            all.slice(from, to).map((d) => d[key]),
            0.75,
          ),
        );
      const left = (fine: 'x' | 'y', middle: 'middleX' | 'middleY'): number => {
        const ofMiddle = ofSharper(details, middle);
        const whole = ofSharper(details, fine);
        const believed = ofMiddle > KEPT ? Math.max(whole, Math.min(1, ofMiddle)) : whole;
        return Math.max(believed, Math.min(1, ofSharper(carried, fine)));
      };
      out[f] = Math.min(left('x', 'middleX'), left('y', 'middleY'));
    }
  return out;
};

/** Fine detail of what was carried along, over that of the first frame; where it is not known, as the whole picture changed. */
const carriedAlong = (details: readonly Detail[], kept: readonly (DetailKept | null)[]): DetailKept[] => {
  let [x, y] = [0, 0];
  return details.map((detail, f) => {
    const before = details[f - 1] ?? detail;
    x += kept[f]?.x ?? Math.log(detail.x / before.x);
    y += kept[f]?.y ?? Math.log(detail.y / before.y);
    return { x: Math.exp(x), y: Math.exp(y) };
  });
};

/** Detail below which a frame of a shot is soft. */
const softBelow = (relative: Float64Array): number => {
  const scatter = Math.max(STEADY, madSigma(relative));
  return Math.max(SOFT, Math.min(SOFTER, median(relative) - STANDS_OUT * scatter));
};

/** Runs of frames much softer than their neighbours, why, and whether sharp frames close by could rebuild them. */
export const softRuns = (
  relative: Float64Array,
  shots: readonly Shot[],
  steps: readonly (CameraStep | null)[],
  width: number,
): SoftFrames[] => {
  const speed = steps.map((s, f) => {
    const next = steps[f + 1];
    const here = [s, next].filter((v) => v !== null && v !== undefined).map((v) => Math.hypot(v.dx, v.dy));
    return here.length === 0 ? 0 : Math.max(...here);
  });
  const usual = median(speed);
  const runs: SoftFrames[] = [];
  for (const { startFrame, endFrame } of shots) {
    const soft = softBelow(relative.subarray(startFrame, endFrame + 1));
    for (let f = startFrame; f <= Math.min(endFrame, relative.length - 1); f++) {
      if (relative[f] >= soft) continue;
      let end = f;
      while (end + 1 <= endFrame && relative[end + 1] < soft) end++;
      const fastest = Math.max(...speed.slice(f, end + 1));
      const moving = fastest > BLURRING * width && fastest > FASTER * usual;
      const brief = end - f + 1 <= LONGEST_RECOVERABLE;
      const sharpWithin = (from: number, to: number): boolean =>
        from <= to &&
        relative.slice(Math.max(startFrame, from), Math.min(endFrame, to) + 1).some((r) => r >= SHARP);
      runs.push({
        startFrame: f,
        endFrame: end,
        cause: moving ? (brief ? 'shake' : 'move') : 'focus',
        recoverable:
          brief &&
          f > startFrame &&
          end < endFrame &&
          sharpWithin(f - NEAR, f - 1) &&
          sharpWithin(end + 1, end + NEAR),
      });
      f = end;
    }
  }
  return runs;
};
