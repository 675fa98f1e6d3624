import {
  alignRoughly,
  asLevel,
  atSizes,
  awayFrom,
  commonFrames,
  isInPlace,
  laidOver,
  lumaScale,
  median,
  middleOf,
  noWiderThan,
  planFeed,
  refined,
  spreadOver,
  Thumbs,
  whichOf,
  type Level,
  type Placement,
  type RoughAlignment,
  type Picture,
  type TimeFault,
} from '@bevrin/core';
import { decode } from '../feed.js';
import type { ProbedClip } from '../probe.js';
import type { Shelf } from './shelf.js';

/** How the frames of a repaired file lie on those of its original, pixels of their own sizes. */
export interface Lies {
  /** The frame of the original that the repaired file begins with. */
  readonly offset: number;
  readonly placement: Placement;
  /** Whether each frame lies elsewhere; the placement is then that in the middle. */
  readonly steadied: boolean;
  readonly times: readonly TimeFault[];
}

/** How two files were found to lie on each other. */
export interface FoundAlignment extends Lies {
  readonly likeness: number;
}

/** Where a frame lies, pixels of each at its own size, and the standard error of that at the middle of an edge, of the original. */
interface Exact {
  readonly placement: Placement;
  readonly error: number;
}

/** Where one frame of a repaired file lies. */
export const placementOf = (
  { placement, steadied }: Lies,
  was: Picture,
  is: Picture,
  original: ProbedClip,
  repaired: ProbedClip,
): Placement =>
  steadied
    ? (placedOn(levelOf(was, original), levelOf(is, repaired), placement, original, repaired)?.placement ??
      placement)
    : placement;

/** The offset that holds at a frame of the repaired file: it changes where frames are gone or come again. */
export const offsetAt = ({ offset, times }: Pick<Lies, 'offset' | 'times'>, frame: number): number =>
  times.reduce(
    (sum, t) =>
      t.frame !== null && t.kind !== 'missing' && frame >= t.frame
        ? sum + (t.kind === 'dropped' ? t.count : -t.count)
        : sum,
    offset,
  );

/** Where a repaired frame lies over an original one; `null` where it cannot be told. */
const placedOn = (
  was: Level,
  is: Level,
  near: Placement,
  original: ProbedClip,
  repaired: ProbedClip,
  passes = 2,
): Exact | null => {
  const [o, r] = [was.width / original.facts.width, is.width / repaired.facts.width];
  const found = refined(was, is, atSizes(near, o, r), passes);
  return found && { placement: atSizes(found.placement, 1 / o, 1 / r), error: found.error / o };
};

/** Full-size frames of both. */
export interface Shelves {
  readonly original: Shelf;
  readonly repaired: Shelf;
}

/** Places at which frames are compared at their own size, and frames on each side that are looked at. */
const PLACES = 9;
const ABOUT = 3;
/** Where the path was changed small pictures tell no frame from the next: so many on each side are looked at, at few places. */
const FAR = 14;
const FAR_PLACES = 3;
/** Fine detail that is less alike tells nothing: rows were moved, or all of it is gone. */
const LEAST_ALIKE = 0.35;
/** A picture that lies where it lay, within this, is likelier by so much. */
const STAYS_PX = 0.3;
const IN_PLACE = 0.1;
/** Full-size frames are registered at no more than this width. */
const REGISTERED_WIDTH = 640;
/** A frame is told from its neighbours where it is this much more alike than the next best. */
const TELLS = 0.02;
/** A placement that moves by more than this from frame to frame, share of the width, was changed. */
const MOVES = 0.0005;
/** and by so many standard errors: a blur lays each edge a little elsewhere, which scatters up to four times as far. */
const SURELY = 6;
/** Below this correlation two clips are not of the same scene. */
export const SAME_SCENE = 0.88;

/** Small pictures of every frame of a clip. */
export const thumbsOf = async (
  clip: ProbedClip,
  signal?: AbortSignal,
  progress: (share: number) => void = () => undefined,
): Promise<Thumbs> => {
  const thumbs = new Thumbs();
  await decode(clip, planFeed(clip.facts, null, false), ({ planes: [luma] }) => thumbs.take(luma), {
    signal,
    progress,
  });
  return thumbs;
};

/**
 * Finds a repaired file in its original, exact to the frame and to parts of a pixel.
 * @returns `null` where they do not look alike from any frame on
 */
export const alignClips = async (shelves: Shelves, signal?: AbortSignal): Promise<FoundAlignment | null> => {
  const [original, repaired] = [shelves.original.clip, shelves.repaired.clip];
  const [one, other] = await Promise.all([thumbsOf(original, signal), thumbsOf(repaired, signal)]);
  const rough = alignRoughly(one, other);
  if (!rough || rough.likeness < SAME_SCENE) return null;
  const start = atSizes(
    rough.placement,
    original.facts.width / one.width,
    repaired.facts.width / other.width,
  );
  const finder = new FrameFinder(shelves, start, rough.steadied && !rough.clear);
  const found = await finder.find(rough, one.count, other.count);
  return { ...found, likeness: rough.likeness };
};

/** How a repaired frame fits one of the original. */
interface Fitted {
  readonly placement: Placement;
  readonly alike: number;
}

interface Sure {
  readonly frame: number;
  readonly offset: number;
}

interface Told {
  readonly frame: number;
  /** The offset that holds there; `null` where no frame is told from its neighbours. */
  readonly offset: number | null;
}

/** Tells frames apart at their own size, and finds out where each lies. */
class FrameFinder {
  private readonly original: ProbedClip;
  private readonly repaired: ProbedClip;

  constructor(
    private readonly shelves: Shelves,
    private start: Placement,
    /** Whether a frame may lie anywhere: the path was changed, and a frame is told by its detail alone. */
    private readonly free: boolean,
  ) {
    this.original = shelves.original.clip;
    this.repaired = shelves.repaired.clip;
  }

  async find(
    rough: RoughAlignment,
    originals: number,
    repaireds: number,
  ): Promise<Omit<FoundAlignment, 'likeness'>> {
    const begun = rough.clear ? rough.offset : await this.searched(rough.offset, originals, repaireds);
    const frames = this.spread(begun, originals, repaireds, PLACES);
    const told: Told[] = [];
    for (const frame of frames) told.push(await this.tellAt(frame, begun, originals));
    const sure = withoutOdd(told);
    const offset = sure.length > 0 ? sure[0].offset : begun;
    const { placement, moves } = await this.exactPlacement(frames, offset, sure, originals);
    const times = await this.timeFaults(sure, offset, originals, repaireds);
    return {
      offset,
      placement,
      times,
      steadied: moves,
    };
  }

  /** Frames of the repaired file that the original has, too, spread evenly. */
  private spread(offset: number, originals: number, repaireds: number, most: number): number[] {
    return spreadOver(commonFrames(originals, repaireds, offset), most);
  }

  /**
   * The offset at which the fine detail of a few frames is most alike, about the likely ones. Where frames hardly differ, one
   * at which the picture lies where it lay is the likelier.
   */
  private async searched(rough: number, originals: number, repaireds: number): Promise<number> {
    const far = this.free ? FAR : ABOUT;
    let best = { offset: rough, alike: LEAST_ALIKE, placement: this.start };
    for (const centre of new Set([rough, 0, originals - repaireds])) {
      const found = new Map<number, Fitted[]>();
      for (const frame of this.spread(centre, originals, repaireds, FAR_PLACES)) {
        const from = Math.max(0, frame + centre - far);
        const was = await this.shelves.original.frames(from, frame + centre + far + 1 - from);
        const [is] = await this.shelves.repaired.frames(frame, 1);
        if (!is) continue;
        const level = levelOf(is, this.repaired);
        was.forEach((picture, i) => {
          const offset = from + i - frame;
          found.set(offset, [
            ...(found.get(offset) ?? []),
            this.fitted(levelOf(picture, this.original), level),
          ]);
        });
      }
      const most = Math.max(0, ...[...found.values()].map((f) => f.length));
      for (const [offset, fits] of found) {
        if (fits.length < most) continue;
        const placement = middleOf(fits.map((f) => f.placement));
        const alike =
          fits.reduce((s, f) => s + f.alike, 0) / fits.length +
          (isInPlace(placement, this.original.facts, this.repaired.facts, STAYS_PX) ? IN_PLACE : 0);
        if (alike > best.alike) best = { offset, alike, placement };
      }
    }
    this.start = best.placement;
    return best.offset;
  }

  /** The repaired frame laid over one of the original as well as it fits, and how alike their detail then is. */
  private fitted(was: Level, is: Level): Fitted {
    // Of many that are tried each is laid once: the next best lies far enough off.
    const placement = this.placed(was, is, this.start, this.free ? 1 : 2)?.placement;
    if (!placement) return { placement: this.start, alike: -1 };
    const { level, seen } = this.laid(is, placement, was);
    return { placement, alike: fineLikeness(was, level, seen) };
  }

  private async alikeAt(frame: number, from: number, to: number): Promise<number[] | null> {
    const [was, [is]] = await Promise.all([
      this.shelves.original.frames(from, to - from + 1),
      this.shelves.repaired.frames(frame, 1),
    ]);
    if (!is || was.length < 2) return null;
    return this.alikeness(
      was.map((p) => levelOf(p, this.original)),
      levelOf(is, this.repaired),
    );
  }

  /** Which frame of the original one of the repaired file is, about where it is thought to be. */
  private async tellAt(frame: number, offset: number, originals: number): Promise<Told> {
    const from = Math.max(0, frame + offset - ABOUT);
    const to = Math.min(originals - 1, frame + offset + ABOUT);
    const alike = to > from ? await this.alikeAt(frame, from, to) : null;
    if (!alike) return { frame, offset: null };
    const best = alike.indexOf(Math.max(...alike));
    const next = Math.max(...alike.filter((_, i) => i !== best));
    return { frame, offset: alike[best] - next >= TELLS ? from + best - frame : null };
  }

  private alikeness(was: readonly Level[], is: Level): number[] | null {
    if (!this.free) {
      const { level, seen } = this.laid(is, this.start, was[0]);
      return whichOf(was, level, seen);
    }
    // Each frame of the original is where the path had the camera: it is laid over each by itself.
    const alike = was.map((each) => this.fitted(each, is).alike);
    return alike.some((v) => v > -1) ? alike : null;
  }

  private laid(is: Level, placement: Placement, like: Level): ReturnType<typeof laidOver> {
    return laidOver(
      is,
      atSizes(placement, like.width / this.original.facts.width, is.width / this.repaired.facts.width),
      like,
    );
  }

  private placed(was: Level, is: Level, near: Placement, passes = 2): Exact | null {
    return placedOn(was, is, near, this.original, this.repaired, passes);
  }

  /** The placement in the middle of what several frames say, and whether it moves from one to another. */
  private async exactPlacement(
    frames: readonly number[],
    offset: number,
    sure: readonly Sure[],
    originals: number,
  ): Promise<{ placement: Placement; moves: boolean }> {
    const found: Exact[] = [];
    for (const frame of frames) {
      const at = frame + offsetIn(sure, frame, offset);
      if (at < 0 || at >= originals) continue;
      const [[was], [is]] = await Promise.all([
        this.shelves.original.frames(at, 1),
        this.shelves.repaired.frames(frame, 1),
      ]);
      const one =
        was && is ? this.placed(levelOf(was, this.original), levelOf(is, this.repaired), this.start) : null;
      if (one) found.push(one);
    }
    if (found.length === 0) return { placement: this.start, moves: this.free };
    const places = found.map((f) => f.placement);
    const placement = middleOf(places);
    const { width } = this.original.facts;
    const still = Math.max(MOVES * width, SURELY * median(found.map((f) => f.error)));
    return { placement, moves: median(awayFrom(placement, places, width)) > still };
  }

  /** Frames that are gone or come again between places where different offsets hold; and what is not there at the ends. */
  private async timeFaults(
    sure: readonly Sure[],
    offset: number,
    originals: number,
    repaireds: number,
  ): Promise<TimeFault[]> {
    const faults: TimeFault[] = [];
    if (offset > 0) faults.push({ kind: 'missing', frame: 0, count: offset });
    for (let i = 1; i < sure.length; i++) {
      const change = sure[i].offset - sure[i - 1].offset;
      if (change === 0) continue;
      const frame = await this.whereItChanges(sure[i - 1], sure[i], originals);
      faults.push({ kind: change > 0 ? 'dropped' : 'repeated', frame, count: Math.abs(change) });
    }
    const behind = originals - (repaireds + (sure.at(-1)?.offset ?? offset));
    if (behind > 0) faults.push({ kind: 'missing', frame: repaireds - 1, count: behind });
    return faults;
  }

  /** The first frame that the later offset holds for. */
  private async whereItChanges(before: Sure, after: Sure, originals: number): Promise<number> {
    let [low, high] = [before.frame, after.frame];
    while (high - low > 1) {
      const middle = (low + high) >> 1;
      const { offset } = await this.tellAt(middle, before.offset, originals);
      if (offset === null) break;
      if (Math.abs(offset - before.offset) < Math.abs(offset - after.offset)) low = middle;
      else high = middle;
    }
    return high;
  }
}

/** Places that tell their offset, without one that is at odds with both of its neighbours. */
const withoutOdd = (told: readonly Told[]): Sure[] => {
  const sure = told.filter((t): t is Sure => t.offset !== null);
  return sure.filter(({ offset }, i) => {
    const [before, after] = [sure[i - 1]?.offset, sure[i + 1]?.offset];
    if (before === undefined && after === undefined) return true;
    return offset === before || offset === after;
  });
};

/** The offset that holds at a frame: that of the place before it. */
const offsetIn = (sure: readonly Sure[], frame: number, otherwise: number): number =>
  sure.findLast((s) => s.frame <= frame)?.offset ?? otherwise;

/** Luma in % of the range, small enough to be registered. */
const levelOf = ({ planes: [luma] }: Picture, { facts }: ProbedClip): Level => {
  const { black, span } = lumaScale(facts);
  const { level } = noWiderThan(asLevel(luma), REGISTERED_WIDTH);
  return { ...level, samples: level.samples.map((v) => (SIGNAL * (v - black)) / span) };
};
/** Levels are registered as codes of this span: noise and texture then weigh as they do elsewhere. */
const SIGNAL = 219;

/** How alike the fine detail of two pictures is: their noise and blur tell one frame from the next. */
const fineLikeness = (one: Level, other: Level, seen: Uint8Array): number => {
  const { width, height } = one;
  let [n, xx, yy, xy] = [0, 0, 0, 0];
  const fine = (s: Float32Array, i: number): number =>
    4 * s[i] - s[i - 1] - s[i + 1] - s[i - width] - s[i + width];
  for (let y = 1; y < height - 1; y++)
    for (let x = 1, i = y * width + 1; x < width - 1; x++, i++) {
      if (seen[i] === 0) continue;
      const u = fine(one.samples, i);
      const v = fine(other.samples, i);
      n++;
      xx += u * u;
      yy += v * v;
      xy += u * v;
    }
  return n > 0 && xx > 0 && yy > 0 ? xy / Math.sqrt(xx * yy) : -1;
};
