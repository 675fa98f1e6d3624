import { median } from '../../maths/robust.js';

/** A move that throws the picture aside by this share of its width in one go, and takes longer than a kick, in seconds, is meant: */
const LEAST_WAY = 0.04;
const LEAST_SEC = 0.12;
/** at its fastest it goes so many times as fast as the camera mostly does, */
const FASTER = 6;
/** and so long before and after it the camera stands at other places: what comes back is a jolt. */
const ABOUT_SEC = 0.3;
const STAYS = 0.75;

/** Frames between which a camera is thrown from one place to another: from the first that moves to the last. */
export interface Whip {
  readonly from: number;
  readonly to: number;
}

/**
 * Moves that are far too fast for a slow course and are meant all the same: whip pans and tilts.
 * @param x, y where the camera points in each frame, pixels of the clip; `NaN` where it is not known
 */
export const whipsIn = (x: Float64Array, y: Float64Array, frameRate: number, width: number): Whip[] => {
  const speed = x.map((v, f) => (f > 0 ? Math.hypot(v - x[f - 1], y[f] - y[f - 1]) : NaN));
  const usual = median(speed.filter((v) => !Number.isNaN(v)));
  const about = Math.max(2, Math.round(ABOUT_SEC * frameRate));
  const placeOf = (from: number, to: number): { x: number; y: number } => ({
    x: median(x.subarray(from, to).filter((v) => !Number.isNaN(v))),
    y: median(y.subarray(from, to).filter((v) => !Number.isNaN(v))),
  });
  const whips: Whip[] = [];
  for (let f = 1; f < x.length; f++) {
    if (!(speed[f] > FASTER * usual) || !isFastest(speed, f, about)) continue;
    const [dx, dy] = [(x[f] - x[f - 1]) / speed[f], (y[f] - y[f - 1]) / speed[f]];
    const goesOn = (k: number): boolean =>
      (x[k] - x[k - 1]) * dx + (y[k] - y[k - 1]) * dy > Math.max(usual, 0.05 * speed[f]);
    let [from, to] = [f - 1, f];
    while (from > 0 && goesOn(from)) from--;
    while (to + 1 < x.length && goesOn(to + 1)) to++;
    if (to - from < LEAST_SEC * frameRate || from < about || to + about >= x.length) continue;
    const way = Math.hypot(x[to] - x[from], y[to] - y[from]);
    if (!(way >= LEAST_WAY * width)) continue;
    const [before, after] = [placeOf(from - about, from + 1), placeOf(to, to + about + 1)];
    if (Math.hypot(after.x - before.x, after.y - before.y) < STAYS * way) continue;
    whips.push({ from, to });
    f = to;
  }
  return whips;
};

/** Whether no frame so near is faster. */
const isFastest = (speed: Float64Array, frame: number, about: number): boolean => {
  for (let f = Math.max(1, frame - about); f <= Math.min(speed.length - 1, frame + about); f++)
    if (speed[f] > speed[frame]) return false;
  return true;
};
