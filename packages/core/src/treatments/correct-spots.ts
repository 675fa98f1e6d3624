import { carry, type Similarity } from '../motion/similarity.js';
import type { Plane } from '../picture/frame.js';
import { lumaScale, planeScale } from '../picture/signal.js';
import type { Runner } from './runner.js';
import { codeOf, copyOf, subsampling } from './sequence.js';
import { numberOf, rowsOf } from './settings.js';
import type { Study } from './study.js';

/** A spot is followed this far out, radii of it: its soft edge lies beyond where it is half as strong. */
const REACHES = 2.4;
/** Rings in which a spot's profile is known. */
const BINS = 16;
/** The ground must change by this, share of its mean, and the ring follow it so closely, for an offset to be told from a gain. */
const CHANGES = 0.08;
const FOLLOWS = 0.97;
/** A spot that was not followed is half as strong no nearer to its middle than this, radii. */
const LEAST_HALF_AT = 0.4;

/** Lens spots are lifted or lowered in their place by a gain and an offset for each ring, which follow what passes behind. */
export const correctSpots: Runner = {
  treatment: 'correctSpots',
  settings: {
    positions: { kind: 'rows', columns: ['x', 'y', 'radius'] },
    gainPct: { kind: 'number', unit: '%', least: -90, most: 200, step: 0.5, otherwise: 10 },
    featherPx: { kind: 'number', unit: 'px', least: 0, most: 200, step: 1, otherwise: 8 },
    follow: { kind: 'flag', otherwise: true },
    strengthPct: { kind: 'number', unit: '%', least: 0, most: 150, step: 5, otherwise: 100 },
  },
  swept: 'strengthPct',
  takesStructure: true,
  judgedOverFrames: 80,
  sweepAbout: () => [50, 75, 100, 120],
  neighbours: () => FOLLOWED_EACH_SIDE,
  begin: (study, settings) => {
    const strength = numberOf(settings, 'strengthPct') / 100;
    const spots = rowsOf(settings, 'positions').map(([x, y, radius]): Spot => {
      const spot = { x, y, radius };
      const followed = settings.follow === true ? profileOf(study, spot) : null;
      return {
        ...spot,
        profile:
          followed ?? softProfile(numberOf(settings, 'gainPct'), numberOf(settings, 'featherPx') / radius),
      };
    });
    const { clip } = study.sequence;
    return {
      treat: (index) => {
        const picture = study.sequence.pictures[index];
        return {
          planes: picture.planes.map((plane, p) => {
            const { kx, ky } = subsampling(picture, p);
            const isLuma = p === 0 || clip.matrix === 'rgb';
            const { black, top } = planeScale(clip, p);
            const out = copyOf(plane);
            for (const spot of spots) mend(out, spot, kx, ky, black, isLuma, strength, top);
            return out;
          }),
        };
      },
    };
  },
};

/** Frames on each side that a spot's profile is read from. */
const FOLLOWED_EACH_SIDE = 12;

/** What a spot does to the light by distance from its middle: code above black = gain · ground + offset. */
interface Profile {
  readonly gain: Float64Array;
  readonly offset: Float64Array;
}
interface Place {
  readonly x: number;
  readonly y: number;
  readonly radius: number;
}
type Spot = Place & { readonly profile: Profile };

/** A soft spot: half as strong where its feather is half over. @param feather share of the radius, 0–1 */
const softProfile = (gainPct: number, feather: number): Profile => {
  const halfAt = Math.max(LEAST_HALF_AT, 1 - Math.min(1, feather) / 2);
  return {
    gain: Float64Array.from({ length: BINS }, (_, bin) => {
      const distance = ((bin + 0.5) / BINS) * REACHES;
      return 1 / (1 + (gainPct / 100) * Math.exp(-Math.LN2 * (distance / halfAt) ** 2));
    }),
    offset: new Float64Array(BINS),
  };
};

/**
 * Reads the profile off the frames: what lies under the spot in one frame lies beside it in another, once the camera has
 * moved on. Each ring of the spot is set against the same places of the scene without it.
 * @returns `null` where the camera did not move far enough
 */
const profileOf = (study: Study, spot: Place): Profile | null => {
  const { black } = lumaScale(study.sequence.clip);
  const under = Array.from({ length: BINS }, (): number[] => []);
  const beside = Array.from({ length: BINS }, (): number[] => []);
  const every = Math.max(1, Math.ceil(study.count / MOST_LOOKED_AT));
  for (let t = 0; t < study.count; t += every) {
    const other = nearestClear(study, t, spot);
    if (!other) continue;
    const pair = [t, other.frame].map((f) => study.sequence.pictures[f].planes[0]);
    const seen = ringsOf(pair[0], pair[1], other, spot, black);
    seen?.forEach(({ is, was }, bin) => {
      under[bin].push(is);
      beside[bin].push(was);
    });
  }
  if (under[0].length < LEAST_PAIRS) return null;
  const profile = { gain: new Float64Array(BINS), offset: new Float64Array(BINS) };
  for (let bin = 0; bin < BINS; bin++) {
    const { gain, offset } = lineThrough(beside[bin], under[bin]);
    profile.gain[bin] = gain;
    profile.offset[bin] = offset;
  }
  return profile;
};

/** Frames that are looked at, and pairs of them that a profile takes. */
const MOST_LOOKED_AT = 16;
const LEAST_PAIRS = 3;

/** The frame in which the scene under a spot first lies clear of it, and how far it went; `null` where none is. */
const nearestClear = (
  study: Study,
  frame: number,
  { x, y, radius }: Place,
): { frame: number; motion: Similarity } | null => {
  const { width, height } = study.sequence.clip;
  for (let away = 1; away < study.count; away++)
    for (const other of [frame + away, frame - away]) {
      if (other < 0 || other >= study.count) continue;
      const { camera: motion, sure } = study.motion(frame, other);
      const at = carry(motion, x, y, width, height);
      if (sure && Math.hypot(at.x - x, at.y - y) > 2 * REACHES * radius) return { frame: other, motion };
    }
  return null;
};

/** Means of each ring of a spot, and of the same places of the scene beside it, above black; `null` where they are not all there. */
const ringsOf = (
  here: Plane,
  there: Plane,
  { motion }: { readonly motion: Similarity },
  { x, y, radius }: Place,
  black: number,
): { is: number; was: number }[] | null => {
  const { width, height, samples } = here;
  const [is, was, counts] = [new Float64Array(BINS), new Float64Array(BINS), new Float64Array(BINS)];
  const reach = Math.ceil(REACHES * radius);
  for (let v = Math.max(0, Math.floor(y) - reach); v <= Math.min(height - 1, y + reach); v++)
    for (let u = Math.max(0, Math.floor(x) - reach); u <= Math.min(width - 1, x + reach); u++) {
      const distance = Math.hypot(u - x, v - y) / radius;
      if (distance >= REACHES) continue;
      const at = carry(motion, u, v, width, height);
      const [px, py] = [Math.round(at.x), Math.round(at.y)];
      if (px < 0 || py < 0 || px >= width || py >= height) continue;
      const bin = Math.floor((distance / REACHES) * BINS);
      is[bin] += samples[v * width + u] - black;
      was[bin] += there.samples[py * width + px] - black;
      counts[bin]++;
    }
  if (counts.some((n) => n === 0) || was.some((sum) => sum <= 0)) return null;
  return Array.from({ length: BINS }, (_, bin) => ({
    is: is[bin] / counts[bin],
    was: was[bin] / counts[bin],
  }));
};

/** What a ring makes of the ground: gain and offset where the ground changes enough to tell them apart, else a gain. */
const lineThrough = (
  ground: readonly number[],
  seen: readonly number[],
): { gain: number; offset: number } => {
  const n = ground.length;
  const [mean, own] = [ground, seen].map((values) => values.reduce((a, b) => a + b, 0) / n);
  let [variance, spread, together] = [0, 0, 0];
  for (let k = 0; k < n; k++) {
    variance += (ground[k] - mean) ** 2 / n;
    spread += (seen[k] - own) ** 2 / n;
    together += ((ground[k] - mean) * (seen[k] - own)) / n;
  }
  const follows = together / Math.sqrt(Math.max(1e-9, variance * spread));
  if (Math.sqrt(variance) <= CHANGES * mean || follows < FOLLOWS)
    return { gain: Math.max(LEAST_GAIN, own / mean), offset: 0 };
  const gain = Math.max(LEAST_GAIN, together / variance);
  return { gain, offset: own - gain * mean };
};

/** A spot that lets less through than this leaves nothing to be lifted. */
const LEAST_GAIN = 0.2;

const mend = (
  plane: Plane,
  { x, y, radius, profile }: Spot,
  kx: number,
  ky: number,
  black: number,
  isLuma: boolean,
  strength: number,
  top: number,
): void => {
  const { width, height, samples } = plane;
  const reach = REACHES * radius;
  for (let v = Math.max(0, Math.floor((y - reach) / ky)); v <= Math.min(height - 1, (y + reach) / ky); v++)
    for (let u = Math.max(0, Math.floor((x - reach) / kx)); u <= Math.min(width - 1, (x + reach) / kx); u++) {
      const distance = Math.hypot((u + 0.5) * kx - 0.5 - x, (v + 0.5) * ky - 0.5 - y) / radius;
      if (distance >= REACHES) continue;
      const at = Math.max(0, (distance / REACHES) * BINS - 0.5);
      const low = Math.min(BINS - 2, Math.floor(at));
      const share = at - low;
      const gain = profile.gain[low] + (profile.gain[low + 1] - profile.gain[low]) * share;
      const offset = isLuma
        ? profile.offset[low] + (profile.offset[low + 1] - profile.offset[low]) * share
        : 0;
      const i = v * width + u;
      const value = samples[i] - black;
      const mended = (value - offset) / Math.max(LEAST_GAIN, gain);
      samples[i] = codeOf(black + value + strength * (mended - value), top);
    }
};
