import { ENOUGH } from '../../maths/enough.js';
import { constantOf, kernels } from '../../kernels/kernels.js';
import { weightedMedian } from '../../maths/robust.js';
import type { Carried } from '../../motion/motion-analysis.js';
import type { Level } from '../../picture/pyramid.js';

/** By how much places that the camera carried along kept their fine detail into the next frame: logarithms of power. */
export interface DetailKept {
  readonly x: number;
  readonly y: number;
}

/** Half of the side of a place, and distances of the differences in it, pixels of the small view. */
const HALF = constantOf('PLACE') / 2;
const FINE = 1;
const COARSE = 4;
/** Of more places than these no more are looked at. */
const MOST_PLACES = 160;

/**
 * How much of its fine detail the scene kept from one frame to the next, by places that both show: what passes, comes or
 * goes plays no part, however sharp or blurred it is. About 1500 operations for each place.
 * @returns `null` where too few places were carried along
 */
export const detailKept = (before: Level, now: Level, carried: readonly Carried[]): DetailKept | null => {
  const across: Changes = { change: [], weight: [] };
  const down: Changes = { change: [], weight: [] };
  const at = { before: kernels.keep(before.samples), now: kernels.keep(now.samples) };
  const stride = Math.max(1, carried.length / MOST_PLACES);
  for (let k = 0; k < carried.length; k += stride) {
    const place = carried[Math.floor(k)];
    const [ax, ay] = [Math.round(place.x), Math.round(place.y)];
    const [bx, by] = [Math.round(place.x + place.dx), Math.round(place.y + place.dy)];
    if (!lies(before, ax, ay) || !lies(now, bx, by)) continue;
    powersAt(at.before, before.width, ax, ay, ofBefore);
    powersAt(at.now, now.width, bx, by, ofNow);
    for (const [all, k] of [
      [across, 0],
      [down, 2],
    ] as const) {
      const [a, b] = [ofBefore[k], ofNow[k]];
      all.change.push(Math.log(b / ofNow[k + 1]) - Math.log(a / ofBefore[k + 1]));
      // What is out of focus has little to lose: where there is fine detail, that tells.
      all.weight.push(Math.max(a, b));
    }
  }
  if (across.change.length < ENOUGH) return null;
  return { x: weightedMedian(across.change, across.weight), y: weightedMedian(down.change, down.weight) };
};

interface Changes {
  readonly change: number[];
  readonly weight: number[];
}

const lies = ({ width, height }: Level, x: number, y: number): boolean => {
  const room = HALF + COARSE;
  return x >= room && y >= room && x < width - room && y < height - room;
};

/** Keeps a blank place from being divided by nothing. */
const NOTHING = 1;

const ofBefore = new Float64Array(4);
const ofNow = new Float64Array(4);

/**
 * Power of fine and of coarse differences about a place, along rows and then down columns; every other row is enough.
 * @param kept address of the picture
 * @param out receives the four
 */
export const powersAt = (kept: number, width: number, x: number, y: number, out: Float64Array): void => {
  kernels.run.detailAt(kept + 4 * ((y - HALF) * width + x - HALF), width, FINE, COARSE);
  for (let k = 0; k < 4; k++) out[k] = NOTHING + kernels.result(k);
};

/**
 * The same, plainly.
 * @returns power of fine and of coarse differences along rows, then down columns
 */
export const powersPlain = ({ width, samples: s }: Level, x: number, y: number): number[] => {
  const [fineStep, coarseStep] = [FINE * width, COARSE * width];
  let [fineX, coarseX, fineY, coarseY] = [NOTHING, NOTHING, NOTHING, NOTHING];
  for (let v = y - HALF; v < y + HALF; v += 2)
    for (let i = v * width + x - HALF, end = i + 2 * HALF; i < end; i++) {
      const fx = s[i + FINE] - s[i - FINE];
      const cx = s[i + COARSE] - s[i - COARSE];
      const fy = s[i + fineStep] - s[i - fineStep];
      const cy = s[i + coarseStep] - s[i - coarseStep];
      fineX += fx * fx;
      coarseX += cx * cx;
      fineY += fy * fy;
      coarseY += cy * cy;
    }
  return [fineX, coarseX, fineY, coarseY];
};
