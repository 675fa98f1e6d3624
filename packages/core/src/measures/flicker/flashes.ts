import { FLASH } from '../../picture/signal.js';

/** More changes than this share of the frames, and they are flicker, not flashes; a few are allowed in any clip. */
const MOST_SHARE = 0.03;
const ANY_CLIP_STEPS = 4;
/** A flash is over within so many frames, */
const LONGEST = 4;
/** and leaves the light as it was, but for this share of its height: clipped pixels part with some of it. */
const REMAINDER = 0.25;
/** What is left of one in a curve stands out by this factor from nearly all of it, */
const STANDS_OUT = 4.5;
const NEARLY_ALL = 0.9;
/** and by this much (log). */
const LEAST_HEIGHT = 0.02;

/**
 * Frames of flashes: what goes up and comes down again; summing it up would leave its error in the curve.
 * @param steps change of the light into each frame, log; 0 where it is not known
 */
export const flashesIn = (steps: readonly number[]): ReadonlySet<number> => {
  const flashes = new Set<number>();
  const large = steps.filter((s) => Math.abs(s) > FLASH).length;
  if (large > Math.max(ANY_CLIP_STEPS, MOST_SHARE * steps.length)) return flashes;
  for (let t = 1; t < steps.length; t++) {
    if (Math.abs(steps[t]) <= FLASH || flashes.has(t)) continue;
    let left = steps[t];
    for (let end = t + 1; end < Math.min(steps.length, t + LONGEST); end++) {
      left += steps[end];
      if (Math.abs(left) > REMAINDER * Math.abs(steps[t])) continue;
      for (let f = t; f <= end; f++) flashes.add(f);
      break;
    }
  }
  return flashes;
};

/**
 * Single frames whose light stands out from the rest of a curve: fainter flashes than those that are seen in the steps.
 * @param curve log light about its slow course, `NaN` where unknown
 */
export const outstandingIn = (curve: Float64Array): ReadonlySet<number> => {
  const sorted = curve
    .filter((v) => !Number.isNaN(v))
    .map(Math.abs)
    .sort();
  const found = new Set<number>();
  if (sorted.length === 0) return found;
  const typical = sorted[Math.floor(sorted.length * NEARLY_ALL)];
  curve.forEach((v, t) => Math.abs(v) > Math.max(STANDS_OUT * typical, LEAST_HEIGHT) && found.add(t));
  return found;
};
