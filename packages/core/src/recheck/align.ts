import { median } from '../maths/robust.js';
import type { Level } from '../picture/pyramid.js';
import { meansOf } from './means.js';
import { candidatesOf, LEAST_COMMON, offsetsByChange, offsetsOf, signatureOf } from './offsets.js';
import { awayFrom, laidOver, middleOf, place, refined, type Placed, type Placement } from './placement.js';

/** Small pictures of every frame are so wide. */
const THUMB_WIDTH = 192;
/** A code of 8 bits in 16. */
const CODE = 257;

/** Small luma of every frame of a clip, and what tells its moments apart. */
export class Thumbs {
  readonly frames: Uint8Array[] = [];
  readonly signatures: Float32Array[] = [];
  width = 0;
  height = 0;

  /** @param small luma, 16 bits a sample */
  take(picture: Pick<Level, 'width' | 'height'> & { readonly samples: ArrayLike<number> }): void {
    this.width = Math.min(THUMB_WIDTH, picture.width);
    this.height = Math.max(1, Math.round((picture.height * this.width) / picture.width));
    const means = meansOf(picture, this.width, this.height);
    this.signatures.push(signatureOf({ width: this.width, height: this.height, samples: means }));
    const frame = new Uint8Array(means.length);
    for (let i = 0; i < frame.length; i++) frame[i] = Math.round(means[i] / CODE);
    this.frames.push(frame);
  }

  at(frame: number): Level {
    const { width, height } = this;
    return { width, height, samples: new Float32Array(this.frames[frame]) };
  }

  get count(): number {
    return this.frames.length;
  }
}

/** How a repaired clip lies in the original, as far as small pictures tell. */
export interface RoughAlignment {
  /** The frame of the original that the repaired clip begins with; below 0 where it has a handle. */
  readonly offset: number;
  /** The placement, pixels of the small pictures: that of most frames. */
  readonly placement: Placement;
  /** Whether the picture was moved from frame to frame. */
  readonly steadied: boolean;
  /** Whether the placement moves at all other offsets by much more: then this one is right. */
  readonly clear: boolean;
  /** Correlation of what both show, −1 to 1. */
  readonly likeness: number;
}

/** Frames by which a placement is found, and those by which it is told whether it stays. */
const PROBES = 5;
const SAMPLES = 12;
/** Offsets that are looked at about the likeliest one, on each side, and how often that moves on. */
const ABOUT = 5;
const MOVES = 6;
/** A placement that moves by less than this, share of the width, stays. */
const STAYS = 0.0009;
/** What is this much alike lies where it was thought to. */
const LIKELY = 0.95;
/** What is less alike shows something else, wherever it is laid; */
const UNLIKE = 0.75;
/** and after so many likely offsets no other is tried. */
const ENOUGH = 3;
/** Candidates this near to the likeliest are as likely by their look. */
const AS_LIKELY = 0.012;
/** A placement that moves by less than this share of what it does at most offsets stays as good as it can. */
const CLEARLY = 0.6;

/** Frames in common, spread evenly. @param last behind the last of them */
export const spreadOver = ([first, last]: readonly [first: number, last: number], most: number): number[] => {
  const count = Math.max(0, Math.min(most, last - first));
  return Array.from({ length: count }, (_, i) => first + Math.floor(((i + 0.5) * (last - first)) / count));
};

/** Frames of a repaired clip that its original has, too: the first, and behind the last. */
export const commonFrames = (
  originals: number,
  repaireds: number,
  offset: number,
): [first: number, last: number] => [Math.max(0, -offset), Math.min(repaireds, originals - offset)];

/** Where a repaired clip lies best by its look, before the moment is told exactly. */
interface Likeliest {
  readonly best: Placed & { readonly offset: number };
  readonly changes: ReadonlyMap<number, number>;
}

const likeliest = (original: Thumbs, repaired: Thumbs): Likeliest | null => {
  if (Math.min(original.count, repaired.count) < LEAST_COMMON) return null;
  const byLook = offsetsOf(original.signatures, repaired.signatures);
  const byChange = offsetsByChange(original.signatures, repaired.signatures);
  const changes = new Map(byChange.map((o) => [o.offset, o.alike]));
  // The likeliest by its look first: where none of them shows the same, no other will.
  const tried = new Set([
    ...candidatesOf(byLook, 4, ENOUGH).map((o) => o.offset),
    ...candidatesOf(byChange, 4, 3).map((o) => o.offset),
    0,
    original.count - repaired.count,
  ]);
  let near: Placement | null = null;
  const placed: (Placed & { readonly offset: number; readonly change: number })[] = [];
  for (const offset of tried) {
    const common = commonFrames(original.count, repaired.count, offset);
    if (common[1] - common[0] < LEAST_COMMON) continue;
    if (placed.length >= ENOUGH && placed.every((p) => p.likeness < UNLIKE)) break;
    const found: Placed[] = [];
    for (const j of spreadOver(common, PROBES)) {
      // The middle of all lies below it already.
      if (2 * found.filter((f) => f.likeness < UNLIKE).length > PROBES) break;
      const [was, is] = [original.at(j + offset), repaired.at(j)];
      // A clip lies in its original as it lies there anywhere: once that is known, no other enlargement is tried.
      found.push((near && refined(was, is, near)) ?? place(was, is));
    }
    const middle = typical(found);
    if (middle.likeness >= LIKELY) near = middle.placement;
    placed.push({ offset, ...middle, change: changes.get(offset) ?? -1 });
  }
  if (placed.length === 0) return null;
  const most = Math.max(...placed.map((p) => p.likeness));
  const best = placed
    .filter((p) => p.likeness >= most - AS_LIKELY)
    .reduce((a, b) => (b.change > a.change ? b : a));
  return { best, changes };
};

/**
 * How alike a repaired clip is to one that it may be made of, where it lies on it best: correlation, −1 to 1.
 * @returns `null` where too few frames are in common
 */
export const likenessBetween = (original: Thumbs, repaired: Thumbs): number | null =>
  likeliest(original, repaired)?.best.likeness ?? null;

/**
 * Finds a repaired clip in its original: when it begins, and where it lies.
 * @returns `null` where too few frames are in common, or they show something else
 */
export const alignRoughly = (original: Thumbs, repaired: Thumbs): RoughAlignment | null => {
  const found = likeliest(original, repaired);
  if (!found || found.best.likeness < UNLIKE) return null;
  return settled(original, repaired, found.best, found.changes);
};

/** The placement in the middle of several. */
const typical = (found: readonly Placed[]): Placed => {
  // One that could not be placed says nothing of where the others lie.
  const sure = found.filter((f) => f.likeness > 0);
  return {
    placement: middleOf((sure.length > 0 ? sure : found).map((f) => f.placement)),
    likeness: median(found.map((f) => f.likeness)),
  };
};

interface Tried extends Placed {
  readonly offset: number;
  /** How far the placement moves about its middle, share of the width. */
  readonly spread: number;
}

/** Looks at the offsets about one, until the best of them lies inside. */
const settled = (
  original: Thumbs,
  repaired: Thumbs,
  from: Placed & { readonly offset: number },
  changes: ReadonlyMap<number, number>,
): RoughAlignment => {
  const known = new Map<number, Tried | null>();
  const laid = new Map<number, Level>();
  const like = original.at(0);
  const laidAt = (frame: number): Level => {
    const level = laid.get(frame) ?? laidOver(repaired.at(frame), from.placement, like).level;
    laid.set(frame, level);
    return level;
  };
  let all: Tried[] = [];
  let centre = from.offset;
  let best: Tried = { ...from, spread: Infinity };
  for (let move = 0; move < MOVES; move++) {
    for (let offset = centre - ABOUT; offset <= centre + ABOUT; offset++)
      if (!known.has(offset)) known.set(offset, triedAt(original, repaired, offset, from.placement, laidAt));
    all = [...known.values()].filter((t) => t !== null);
    if (all.length === 0) break;
    best = bestOf(all, changes);
    if (Math.abs(best.offset - centre) < ABOUT) break;
    centre = best.offset;
  }
  const { offset, placement, likeness, spread } = best;
  return { offset, placement, likeness, steadied: spread > STAYS, clear: all.length > 2 && isClear(all) };
};

/** Whether it moves with the camera at all offsets but one: the path of both is the same there. An even pan moves at none. */
const isClear = (all: readonly Tried[]): boolean => {
  const [least, next] = all.map((t) => t.spread).sort((a, b) => a - b);
  return next > STAYS && least < CLEARLY * next;
};

/** Where the placement stays it is the right moment; where it stays at all of them, or at none, what changes tells. */
const bestOf = (all: readonly Tried[], changes: ReadonlyMap<number, number>): Tried => {
  const stays = all.filter((t) => t.spread <= STAYS);
  const least = Math.min(...all.map((t) => t.spread));
  if (stays.length === 0 && isClear(all)) return all.find((t) => t.spread === least)!;
  const likely =
    stays.length > 0
      ? stays.filter((t) => t.spread <= least + STAYS / 3)
      : all.filter((t) => t.likeness >= Math.max(...all.map((o) => o.likeness)) - AS_LIKELY / 4);
  return likely.reduce((a, b) => ((changes.get(b.offset) ?? -1) > (changes.get(a.offset) ?? -1) ? b : a));
};

/** @param laidAt a repaired frame as it lies near there */
const triedAt = (
  original: Thumbs,
  repaired: Thumbs,
  offset: number,
  near: Placement,
  laidAt: (frame: number) => Level,
): Tried | null => {
  const common = commonFrames(original.count, repaired.count, offset);
  if (common[1] - common[0] < LEAST_COMMON) return null;
  const found = spreadOver(common, SAMPLES).flatMap((j) => {
    // Once is enough to tell whether it stays: the exact place is found at full size.
    const one = refined(original.at(j + offset), repaired.at(j), near, 1, laidAt(j));
    return one ? [one] : [];
  });
  if (found.length < LEAST_COMMON) return null;
  const middle = typical(found);
  const away = awayFrom(
    middle.placement,
    found.map((f) => f.placement),
    original.width,
  );
  return { offset, ...middle, spread: quartile(away) / original.width };
};

/** What three of four lie below: one frame that is out of the way, a flash or a subject before the lens, says nothing. */
const quartile = (values: readonly number[]): number =>
  [...values].sort((a, b) => a - b)[Math.floor(0.75 * values.length)];
