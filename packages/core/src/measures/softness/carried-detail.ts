import { weightedMedian } from '../../maths/robust.js';
import type { Carried } from '../../motion/motion-analysis.js';
import type { Level } from '../../picture/pyramid.js';

/** By how much places that the camera carried along kept their fine detail into the next frame: logarithms of power. */
export interface DetailKept {
  readonly x: number;
  readonly y: number;
}

/** Half of the side of a place, and distances of the differences in it, pixels of the small view. */
const HALF = 7;
const FINE = 1;
const COARSE = 4;
/** Fewer places tell nothing; of more, so many are enough. */
const LEAST_PLACES = 8;
const MOST_PLACES = 160;

/**
 * How much of its fine detail the scene kept from one frame to the next, by places that both show: what passes, comes or
 * goes plays no part, however sharp or blurred it is. About 1500 operations for each place.
 * @returns `null` where too few places were carried along
 */
export const detailKept = (before: Level, now: Level, carried: readonly Carried[]): DetailKept | null => {
  const across: Changes = { change: [], weight: [] };
  const down: Changes = { change: [], weight: [] };
  const stride = Math.max(1, carried.length / MOST_PLACES);
  for (let k = 0; k < carried.length; k += stride) {
    const place = carried[Math.floor(k)];
    const [ax, ay] = [Math.round(place.x), Math.round(place.y)];
    const [bx, by] = [Math.round(place.x + place.dx), Math.round(place.y + place.dy)];
    if (!lies(before, ax, ay) || !lies(now, bx, by)) continue;
    for (const [all, step] of [
      [across, 1],
      [down, now.width],
    ] as const) {
      const [a, b] = [powersAt(before, ax, ay, step), powersAt(now, bx, by, step)];
      all.change.push(Math.log(b.fine / b.coarse) - Math.log(a.fine / a.coarse));
      // What is out of focus has little to lose: where there is fine detail, that tells.
      all.weight.push(Math.max(a.fine, b.fine));
    }
  }
  if (across.change.length < LEAST_PLACES) return null;
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

/** Power of fine and of coarse differences about a place, along one direction; every other row is enough. */
const powersAt = (
  { width, samples: s }: Level,
  x: number,
  y: number,
  step: number,
): { fine: number; coarse: number } => {
  let [fine, coarse] = [NOTHING, NOTHING];
  for (let v = y - HALF; v < y + HALF; v += 2)
    for (let i = v * width + x - HALF, end = i + 2 * HALF; i < end; i++) {
      const f = s[i + FINE * step] - s[i - FINE * step];
      const c = s[i + COARSE * step] - s[i - COARSE * step];
      fine += f * f;
      coarse += c * c;
    }
  return { fine, coarse };
};
