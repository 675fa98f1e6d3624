import { mean } from '../maths/robust.js';
import { carry, type Similarity } from '../motion/similarity.js';
import type { Plane } from '../picture/frame.js';
import type { Study } from './study.js';

/** A spot is followed this far out, radii of it: its soft edge lies beyond where it is half as strong. */
export const REACHES = 2.4;
/** Rings in which a spot's profile is known, at most: none is narrower than a pixel, or it might hold none. */
const MOST_RINGS = 16;
/** The ground must change by this, share of its mean, for an offset to be told from a gain. */
const CHANGES = 0.15;
/** A spot that was not followed is half as strong no nearer to its middle than this, radii. */
const LEAST_HALF_AT = 0.4;
/** A spot that lets less through than this leaves nothing to be lifted. */
const LEAST_GAIN = 0.2;

/** What a spot does to the light by distance from its middle: light seen = gain · light of the ground + offset. */
export interface Profile {
  readonly gain: Float64Array;
  readonly offset: Float64Array;
}
/** Pixels of the luma plane. */
export interface Place {
  readonly x: number;
  readonly y: number;
  readonly radius: number;
}
/** A soft spot: half as strong where its feather is half over. @param feather share of the radius, 0–1 */
export const softProfile = (gainPct: number, feather: number): Profile => {
  const halfAt = Math.max(LEAST_HALF_AT, 1 - Math.min(1, feather) / 2);
  return {
    gain: Float64Array.from({ length: MOST_RINGS }, (_, bin) => {
      const distance = ((bin + 0.5) / MOST_RINGS) * REACHES;
      return 1 / (1 + (gainPct / 100) * Math.exp(-Math.LN2 * (distance / halfAt) ** 2));
    }),
    offset: new Float64Array(MOST_RINGS),
  };
};

/**
 * Reads the profile off the frames: what lies under the spot in one frame lies beside it in another, once the camera has
 * moved on. Each ring of the spot is set against the same places of the scene without it.
 * @returns `null` where the camera did not move far enough
 */
export const profileOf = (study: Study, spot: Place): Profile | null => {
  const { lights } = study.light;
  const rings = Math.max(2, Math.min(MOST_RINGS, Math.floor(REACHES * spot.radius)));
  const under = Array.from({ length: rings }, (): number[] => []);
  const beside = Array.from({ length: rings }, (): number[] => []);
  const every = Math.max(1, Math.ceil(study.count / MOST_LOOKED_AT));
  for (let t = 0; t < study.count; t += every) {
    for (const step of [1, -1]) {
      const other = nearestClear(study, t, step, spot);
      if (!other) continue;
      const pair = [t, other.frame].map((f) => study.sequence.pictures[f].planes[0]);
      const seen = ringsOf(pair[0], pair[1], other.motion, spot, lights, rings);
      seen?.forEach(({ is, was }, bin) => {
        under[bin].push(is);
        beside[bin].push(was);
      });
    }
  }
  if (under[0].length < LEAST_PAIRS) return null;
  const profile = { gain: new Float64Array(rings), offset: new Float64Array(rings) };
  for (let bin = 0; bin < rings; bin++) {
    const { gain, offset } = lineThrough(beside[bin], under[bin]);
    profile.gain[bin] = gain;
    profile.offset[bin] = offset;
  }
  return profile;
};

/** Frames that are looked at, and pairs of them that a profile takes. */
const MOST_LOOKED_AT = 16;
const LEAST_PAIRS = 3;

/** So far out of a spot its middle must lie in the other frame, reaches of it: then half of its outermost ring does as well. */
const CLEAR = 1.25;

/** The next frame, before or after, in which what lies under a spot's middle lies clear of it; `null` where none is. */
const nearestClear = (
  study: Study,
  frame: number,
  step: number,
  { x, y, radius }: Place,
): { frame: number; motion: Similarity } | null => {
  const { width, height } = study.sequence.clip;
  for (let other = frame + step; other >= 0 && other < study.count; other += step) {
    const { camera: motion, sure } = study.motion(frame, other);
    const at = carry(motion, x, y, width, height);
    if (sure && Math.hypot(at.x - x, at.y - y) > CLEAR * REACHES * radius) return { frame: other, motion };
  }
  return null;
};

/** Of each ring so much must lie clear of the spot in the other frame, share of its places. */
const LEAST_CLEAR = 0.25;

/** Mean light of each ring of a spot, and of the same places of the scene beside it; `null` where too few are there. */
const ringsOf = (
  here: Plane,
  there: Plane,
  motion: Similarity,
  { x, y, radius }: Place,
  lights: Float64Array,
  rings: number,
): { is: number; was: number }[] | null => {
  const { width, height, samples } = here;
  const [is, was] = [new Float64Array(rings), new Float64Array(rings)];
  const [counts, all] = [new Float64Array(rings), new Float64Array(rings)];
  const reach = Math.ceil(REACHES * radius);
  for (let v = Math.max(0, Math.floor(y) - reach); v <= Math.min(height - 1, y + reach); v++)
    for (let u = Math.max(0, Math.floor(x) - reach); u <= Math.min(width - 1, x + reach); u++) {
      const distance = Math.hypot(u - x, v - y) / radius;
      if (distance >= REACHES) continue;
      const bin = Math.floor((distance / REACHES) * rings);
      all[bin]++;
      const at = carry(motion, u, v, width, height);
      const [px, py] = [Math.round(at.x), Math.round(at.y)];
      if (px < 0 || py < 0 || px >= width || py >= height) continue;
      if (Math.hypot(px - x, py - y) < REACHES * radius) continue;
      is[bin] += lights[samples[v * width + u]];
      was[bin] += lights[there.samples[py * width + px]];
      counts[bin]++;
    }
  if (counts.some((n, bin) => n === 0 || n < LEAST_CLEAR * all[bin]) || was.some((sum) => sum <= 0))
    return null;
  return Array.from({ length: rings }, (_, bin) => ({
    is: is[bin] / counts[bin],
    was: was[bin] / counts[bin],
  }));
};

/** So many standard errors of itself an offset is, that is taken for one. */
const SURELY = 4;

/**
 * What a ring makes of the ground: gain and offset where the ground changes enough to tell them apart, else a gain. The
 * gain is the ratio of the spreads (reduced major axis, Ricker 1973): what is laid half a pixel off spreads both alike.
 */
const lineThrough = (
  ground: readonly number[],
  seen: readonly number[],
): { gain: number; offset: number } => {
  const n = ground.length;
  const [middle, own] = [mean(ground), mean(seen)];
  let [variance, spread, together] = [0, 0, 0];
  for (let k = 0; k < n; k++) {
    variance += (ground[k] - middle) ** 2 / n;
    spread += (seen[k] - own) ** 2 / n;
    together += ((ground[k] - middle) * (seen[k] - own)) / n;
  }
  const gain = Math.sqrt(spread / variance);
  const offset = own - gain * middle;
  const unlike = (2 * Math.max(0, spread - gain * together)) / Math.max(1, n - 2);
  const error = Math.sqrt(unlike * (1 + middle ** 2 / variance));
  if (!(Math.sqrt(variance) > CHANGES * middle) || gain < LEAST_GAIN || Math.abs(offset) < SURELY * error)
    return { gain: Math.max(LEAST_GAIN, own / middle), offset: 0 };
  return { gain, offset };
};

/** Gain and offset of a profile at a distance from the middle, radii of the spot below {@link REACHES}. */
export const profileAt = (
  { gain, offset }: Profile,
  distance: number,
): { readonly gain: number; readonly offset: number } => {
  const rings = gain.length;
  const at = Math.max(0, Math.min(rings - 1, (distance / REACHES) * rings - 0.5));
  const low = Math.min(rings - 2, Math.floor(at));
  const between = (of: Float64Array): number => of[low] + (of[low + 1] - of[low]) * (at - low);
  return { gain: Math.max(LEAST_GAIN, between(gain)), offset: between(offset) };
};
