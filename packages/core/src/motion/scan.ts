import { ENOUGH, SEVERAL } from '../maths/enough.js';
import type { Plane } from '../picture/frame.js';

/** How the rows of a picture were really exposed; `fieldOrder` is the field that came first. */
export interface ScanSeen {
  readonly scan: 'progressive' | 'interlaced';
  readonly fieldOrder: 'top' | 'bottom' | null;
}

const BLOCK = 16;
/** Every so many blocks along a row of blocks, and every so many rows of blocks, are looked at. */
const BLOCK_STEP = 3;
/** Something moves in a block that differs from frame to frame so many times as much as the quietest one … */
const MOVES = 1.5;
/** … and by at least this, fraction of range. */
const LEAST_MOVE = 0.012;
/**
 * Fields half a frame apart weave as badly as the fields of one frame do (0), those of whole frames a frame worse (1):
 * where between the two a picture lies, at most and at least, to be told.
 */
const FIELDS = 0.3;
const FRAMES = 1 - FIELDS;
/** Share of the pairs that must say the same. */
const AGREED = 0.75;

/** Rows of a block, woven: the even ones of one picture, the odd ones of another. How far each lies off those beside it. */
const combing = (even: Plane, odd: Plane, left: number, top: number): number => {
  const { width } = even;
  let sum = 0;
  for (let y = top; y < top + BLOCK; y++) {
    const [own, other] = y % 2 === 0 ? [even.samples, odd.samples] : [odd.samples, even.samples];
    for (let i = y * width + left, end = i + BLOCK; i < end; i++) {
      const d = 2 * own[i] - other[i - width] - other[i + width];
      sum += d < 0 ? -d : d;
    }
  }
  return sum;
};

const difference = (a: Plane, b: Plane, left: number, top: number): number => {
  let sum = 0;
  for (let y = top; y < top + BLOCK; y += 2)
    for (let i = y * a.width + left, end = i + BLOCK; i < end; i++) {
      const d = a.samples[i] - b.samples[i];
      sum += d < 0 ? -d : d;
    }
  return sum / (BLOCK * (BLOCK / 2));
};

type Vote = 'progressive' | 'top' | 'bottom';

/**
 * Tells from the picture whether rows were exposed together or in two fields, and which field came first. Fields that
 * belong to one instant weave into a smooth picture; the fields of neighbouring frames are woven with each other too, and
 * what fits worst lies furthest apart in time. Only where something moves can it be told.
 */
export class ScanFinder {
  private before: { readonly index: number; readonly plane: Plane } | null = null;
  private readonly votes: Vote[] = [];

  /** @param span codes from black to white */
  constructor(private readonly span: number) {}

  /**
   * @param plane luma of a whole frame, its rows as they are stored
   * @param index of the frame
   */
  take(plane: Plane, index: number): void {
    if (this.votes.length >= ENOUGH) return;
    const { before } = this;
    if (before?.index === index - 1 && before.plane.samples.length === plane.samples.length) {
      const vote = this.look(before.plane, plane);
      if (vote) this.votes.push(vote);
      this.before = null;
    } else this.before = { index, plane: { ...plane, samples: plane.samples.slice() } };
  }

  private look(a: Plane, b: Plane): Vote | null {
    const corners: { left: number; top: number; moves: number }[] = [];
    for (let top = BLOCK; top + 2 * BLOCK <= a.height; top += BLOCK * BLOCK_STEP)
      for (let left = BLOCK; left + 2 * BLOCK <= a.width; left += BLOCK * BLOCK_STEP)
        corners.push({ left, top, moves: difference(a, b, left, top) });
    // What all blocks differ by is noise, unless all of them move.
    const quietest = Math.min(...corners.map((c) => c.moves));
    const moving = corners.filter((c) => c.moves > Math.max(LEAST_MOVE * this.span, MOVES * quietest));
    if (moving.length < ENOUGH) return null;
    let [own, topLate, bottomLate] = [0, 0, 0];
    for (const { left, top } of moving) {
      own += combing(a, a, left, top);
      // The bottom field of the first frame with the top field of the second, and the other way round.
      topLate += combing(b, a, left, top);
      bottomLate += combing(a, b, left, top);
    }
    const far = Math.max(topLate, bottomLate) - own;
    const near = Math.min(topLate, bottomLate) - own;
    if (far <= 0) return null;
    const share = near / far;
    if (share > FRAMES) return 'progressive';
    if (share > FIELDS) return null;
    return topLate < bottomLate ? 'top' : 'bottom';
  }

  /** `null` where nothing moved enough to tell, or pairs of frames tell different things. */
  finish(): ScanSeen | null {
    const count = (vote: Vote): number => this.votes.filter((v) => v === vote).length;
    const least = Math.max(SEVERAL, AGREED * this.votes.length);
    for (const vote of ['progressive', 'top', 'bottom'] as const)
      if (count(vote) >= least)
        return vote === 'progressive'
          ? { scan: 'progressive', fieldOrder: null }
          : { scan: 'interlaced', fieldOrder: vote };
    return null;
  }
}
