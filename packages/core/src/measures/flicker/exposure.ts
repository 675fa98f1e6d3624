/** A step or ramp of the exposure between two levels that each last. */
export interface ExposureChange {
  /** First frame that shows it. */
  readonly frame: number;
  /** Frames that it takes: 1 for a step. */
  readonly frames: number;
  /** Size, log of light. */
  readonly size: number;
}

/** Longer changes are the slow course of the light, seconds. */
const LONGEST_SEC = 2.4;
/** The level before and after one is seen for so long, or for half of that where another follows, and for at least so long, seconds. */
const SEEN_SEC = 1.6;
const LEAST_SEEN_SEC = 0.28;
/** What another follows so soon takes itself no longer than this, seconds: light that swings never stays. */
const SOON_SEC = SEEN_SEC / 8;
/** Less than this is not seen as a change, log of light: a twelfth of a stop. */
const LEAST_SIZE = 0.055;
/** A change explains all but this share of what the light does about it beyond a steady drift: what swings as far swings on afterwards. */
const MOST_LEFT = 0.3;
const MOST_CHANGES = 12;
/** Durations that are tried grow by this factor. */
const FINER = 1.25;

/** Running sums of a curve: what a line and a ramp need to be fitted between any two frames. */
class Sums {
  private readonly n: Float64Array;
  private readonly t: Float64Array;
  private readonly tt: Float64Array;
  private readonly y: Float64Array;
  private readonly ty: Float64Array;
  private readonly yy: Float64Array;

  constructor(curve: Float64Array) {
    [this.n, this.t, this.tt, this.y, this.ty, this.yy] = Array.from(
      { length: 6 },
      () => new Float64Array(curve.length + 1),
    );
    curve.forEach((v, i) => {
      const known = Number.isNaN(v) ? 0 : 1;
      const value = known ? v : 0;
      const add = (to: Float64Array, what: number): void => void (to[i + 1] = to[i] + what);
      add(this.n, known);
      add(this.t, known * i);
      add(this.tt, known * i * i);
      add(this.y, value);
      add(this.ty, value * i);
      add(this.yy, value * value);
    });
  }

  known(from: number, to: number): number {
    return this.n[to] - this.n[from];
  }

  /** Mean of what is known from frame `from` to `to` (excluded); `NaN` where nothing is. */
  mean(from: number, to: number): number {
    return (this.y[to] - this.y[from]) / this.known(from, to);
  }

  /** Sums over frames `from` to `to` (excluded) of the products of 1, t and the values, t from `origin` on. */
  over(from: number, to: number, origin: number) {
    const d = (a: Float64Array): number => a[to] - a[from];
    const [n, t, tt, y, ty, yy] = [this.n, this.t, this.tt, this.y, this.ty, this.yy].map(d);
    return {
      n,
      t: t - origin * n,
      tt: tt - 2 * origin * t + origin * origin * n,
      y,
      ty: ty - origin * y,
      yy,
    };
  }
}

interface Fit {
  readonly frame: number;
  readonly frames: number;
  readonly size: number;
  readonly left: number;
  readonly without: number;
  readonly known: number;
}

/** The part of the time in which levels are looked at that a change was found in: in more of it may lie another. */
interface Found extends Fit {
  readonly part: number;
}

/**
 * Fits level, drift and a ramp that begins behind frame `a` and takes `d` frames, to the curve between two frames.
 * All from running sums: a few dozen operations, whatever the length.
 */
const fitRamp = (sums: Sums, from: number, to: number, a: number, d: number): Fit | null => {
  const inside = Math.min(to, a + d);
  const all = sums.over(from, to, a);
  const ramp = sums.over(a, inside, a);
  const after = sums.over(inside, to, a);
  const [s1, st, sy] = [ramp.t / d + after.n, ramp.tt / d + after.t, ramp.ty / d + after.y];
  const ss = ramp.tt / (d * d) + after.n;
  // Level and drift are taken out of the curve and of the ramp; what is left is fitted one against the other.
  const det = all.n * all.tt - all.t * all.t;
  if (det <= 1e-9) return null;
  const project = (p: number, q: number, r: number, u: number): number =>
    (all.tt * p * r - all.t * (p * u + q * r) + all.n * q * u) / det;
  const yy = all.yy - project(all.y, all.ty, all.y, all.ty);
  const ramps = ss - project(s1, st, s1, st);
  const both = sy - project(all.y, all.ty, s1, st);
  if (ramps <= 1e-9) return null;
  return {
    frame: a + 1,
    frames: d,
    size: both / ramps,
    left: Math.max(0, yy - (both * both) / ramps),
    without: yy,
    known: all.n,
  };
};

const isChange = ({ size, left, without }: Fit): boolean =>
  Math.abs(size) >= LEAST_SIZE && left <= MOST_LEFT * without;

/** Light is followed no better than this, log. */
const FOLLOWED_TO = 0.003;

/** Log likelihood of a change against none (normal errors of unknown size). */
const evidenceOf = ({ left, without, known }: Fit): number =>
  known * Math.log((without + known * FOLLOWED_TO ** 2) / (left + known * FOLLOWED_TO ** 2));

/**
 * Light that goes on changing by this share of a change, before or after it, has no level there: it fades; and levels that lie
 * this much further apart or closer together than it is large are drift that it makes up for.
 */
const MOST_DRIFT = 0.5;

/** Whether a change leads from one level that lasts to another. */
const leadsToALevel = (
  sums: Sums,
  from: number,
  to: number,
  { frame, frames, size }: Fit,
  mostDrift: number,
): boolean => {
  // A level that is not known at both of its ends drifts nowhere that one could see.
  const ends = (first: number, last: number): [number, number] => {
    const third = Math.floor((last - first) / 3);
    return [sums.mean(first, first + third), sums.mean(last - third, last)];
  };
  const [before, after] = [ends(from, frame), ends(frame + frames - 1, to)];
  const beyond = [before[1] - before[0], after[1] - after[0], after[0] - before[1] - size];
  return !beyond.some((by) => Math.abs(by) > mostDrift * Math.abs(size));
};

/** Whether between two changes there is no level that lasts so many frames. */
const noLevelBetween = (a: Fit, b: ExposureChange, least: number): boolean =>
  a.frame < b.frame + b.frames + least && b.frame < a.frame + a.frames + least;

/** Frames that a change behind frame `a` of `d` frames is judged by, the last excluded. */
const windowOf = (
  length: number,
  frameRate: number,
  a: number,
  d: number,
  seenSec = SEEN_SEC,
): [from: number, to: number] => {
  const seen = Math.round(seenSec * frameRate);
  return [Math.max(0, a + 1 - seen), Math.min(length, a + d + seen)];
};

/**
 * The change that explains most of what the light does, or `null`.
 * @param others changes that are known: a level that lasts lies between it and each of them
 * @param near where it is looked for, frames; anywhere where it is not said
 */
const plainest = (
  curve: Float64Array,
  frameRate: number,
  others: readonly ExposureChange[],
  near: readonly [number, number] = [0, curve.length],
): Found | null => {
  const sums = new Sums(curve);
  const least = Math.max(3, Math.round(LEAST_SEEN_SEC * frameRate));
  let best: Found | null = null;
  const consider = (a: number, d: number): void => {
    for (const part of d <= SOON_SEC * frameRate ? [1, 1 / 2] : [1]) {
      const [from, to] = windowOf(curve.length, frameRate, a, d, part * SEEN_SEC);
      if (sums.known(from, a + 1) < least || sums.known(a + d, to) < least) continue;
      const fit = fitRamp(sums, from, to, a, d);
      if (!fit || !isChange(fit) || others.some((c) => noLevelBetween(fit, c, least))) continue;
      // In half the time light may drift half as far.
      if (!leadsToALevel(sums, from, to, fit, part * MOST_DRIFT)) continue;
      // Of two that explain as much, the shorter one.
      if (!best || evidenceOf(fit) > 1.02 * evidenceOf(best)) best = { ...fit, part };
    }
  };
  const tryAll = (d: number, first: number, last: number): void => {
    const end = Math.min(last, curve.length - least - d);
    for (let a = Math.max(least - 1, first); a <= end; a++) consider(a, d);
  };
  const longest = LONGEST_SEC * frameRate;
  for (let d = 1; d <= longest; d = Math.max(d + 1, Math.round(d * FINER))) tryAll(d, near[0], near[1] - 1);
  // Between the durations that were tried another may fit better.
  const found = best as Found | null;
  const [a, d] = [(found?.frame ?? 0) - 1, found?.frames ?? 0];
  for (let finer = Math.ceil(d / FINER); finer < d * FINER && finer <= longest; finer++)
    tryAll(finer, a - (finer >> 2), a + (finer >> 2));
  return best;
};

/**
 * Steps and ramps of the exposure: an iris, automatic exposure, a cloud. Each leads from one level that lasts to another
 * that lasts; what comes back to its level again and again is flicker, and is not among them.
 * @param curve log light of a shot, one value a frame, `NaN` where unknown
 * @returns by frame
 */
export const exposureChangesIn = (curve: Float64Array, frameRate: number): ExposureChange[] => {
  let changes: ExposureChange[] = [];
  while (changes.length < MOST_CHANGES) {
    const found = plainest(changes.reduce(withoutChange, curve), frameRate, changes);
    if (!found) break;
    changes.push(found);
    // What lies close to another was fitted while that was in the way.
    for (let round = 0; round < SETTLED_AFTER; round++) changes = settled(curve, changes, frameRate);
  }
  return changes.sort((a, b) => a.frame - b.frame);
};

/** A ramp sets in and ends softly: so much more of it on each side is not looked at. */
const SOFT_ENDS = 0.3;
const ends = ({ frame, frames }: Pick<ExposureChange, 'frame' | 'frames'>): [number, number] => {
  const soft = frames > 2 ? Math.ceil(SOFT_ENDS * frames) : frames - 1;
  return [frame - soft, frame + frames - 1 + soft];
};

/** Rounds after which changes that are fitted with each other taken out move no more. */
export const SETTLED_AFTER = 3;

/** Each change fitted again with the others taken out. */
const settled = (
  curve: Float64Array,
  changes: readonly ExposureChange[],
  frameRate: number,
): ExposureChange[] => {
  const now = [...changes];
  now.forEach((change, i) => {
    const others = now.filter((_, k) => k !== i);
    const left = others.reduce(withoutChange, curve);
    const reach = Math.ceil(change.frames / 2) + 3;
    const near = [change.frame - 1 - reach, change.frame + change.frames + reach] as const;
    const fit = plainest(left, frameRate, others, near);
    if (fit) now[i] = { ...fit, size: sizeOf(left, fit, frameRate) };
  });
  return now;
};

/** How far the levels before and after a change lie apart, whatever happens between. */
const sizeOf = (curve: Float64Array, fit: Found, frameRate: number): number => {
  const sums = new Sums(withoutChange(curve, { ...fit, size: 0 }));
  const a = fit.frame - 1;
  const [from, to] = windowOf(curve.length, frameRate, a, fit.frames, fit.part * SEEN_SEC);
  return fitRamp(sums, from, to, a, fit.frames)?.size ?? fit.size;
};

/** Frames of a shot in which the exposure does not change, of so many. */
export const framesHolding = (length: number, changes: readonly ExposureChange[]): number => {
  const changing = changes.map(isWithin);
  return Array.from({ length }, (_, t) => t).filter((t) => !changing.some((is) => is(t))).length;
};

/** Whether a frame lies within a change that takes more than one, its soft ends with it. */
const isWithin = (change: Pick<ExposureChange, 'frame' | 'frames'>): ((t: number) => boolean) => {
  const [from, to] = ends(change);
  return (t) => change.frames > 1 && t >= from && t <= to;
};

/**
 * A curve as it would be had the exposure not changed; nothing is known while it does.
 * @param curve log light, one value a frame
 */
export const withoutChange = (
  curve: Float64Array,
  change: Pick<ExposureChange, 'frame' | 'frames' | 'size'>,
): Float64Array => {
  const changing = isWithin(change);
  const middle = change.frame + change.frames / 2;
  return curve.map((v, t) => {
    const after = t >= middle ? v - change.size : v;
    return changing(t) ? NaN : after;
  });
};
