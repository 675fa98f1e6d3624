/** First and last frame that show both pictures of a dissolve. */
export interface Dissolve {
  readonly startFrame: number;
  readonly endFrame: number;
}

/** Frames that the ends of a dissolve are looked for apart. */
const APART = [8, 16, 32, 64];
/** The pictures at both ends have this little to do with one another: 1 less their correlation. */
const LEAST_APART = 0.5;
/** Of each picture between them no more than this share of its power is neither the one nor the other. */
const MOST_ELSE = 0.04;
/** A share of the picture that comes, or goes, by more than this from one frame to the next is cut. */
const LARGEST_STEP = 0.4;
/** The first, or the last, of two pictures shows alone where the other is less than this. */
const ALONE = 0.04;

/** Sum of the products of what two pictures show at each place. */
export const productOf = (a: Float64Array, b: Float64Array): number => {
  let sum = 0;
  for (let i = 0; i < a.length; i++) sum += a[i] * b[i];
  return sum;
};

/** How much of each of two pictures another one holds (least squares), and the share of its power that is neither. */
const mixOf = (c: Float64Array, a: Float64Array, b: Float64Array): { to: number; left: number } => {
  const [aa, ab, bb] = [productOf(a, a), productOf(a, b), productOf(b, b)];
  const [ac, bc, cc] = [productOf(a, c), productOf(b, c), productOf(c, c)];
  const det = aa * bb - ab * ab;
  const [p, q] = [(bb * ac - ab * bc) / det, (aa * bc - ab * ac) / det];
  return { to: q / (p + q), left: (cc - p * ac - q * bc) / cc };
};

/**
 * Finds where one picture is dissolved into another: every picture between holds a part of both, and nothing else, while a subject
 * that crosses shows one of them here and the other there. Pictures are coarse and free of their mean.
 */
export class DissolveFinder {
  private readonly recent: Float64Array[] = [];
  private frame = -1;
  private readonly found: Dissolve[] = [];

  /** About 20 operations for each cell and each frame looked back at, where both ends differ. */
  take(cells: Float64Array): void {
    this.frame++;
    this.recent.unshift(cells);
    this.recent.length = Math.min(Math.max(...APART) + 1, this.recent.length);
    for (const apart of APART) {
      const found = this.between(apart);
      if (found) {
        this.found.push(found);
        return;
      }
    }
  }

  private between(apart: number): Dissolve | null {
    const { recent, frame } = this;
    if (recent.length <= apart || differenceOf(recent[apart], recent[0]) < LEAST_APART) return null;
    let before = 0;
    let [startFrame, endFrame] = [-1, -1];
    for (let k = apart - 1; k >= 0; k--) {
      const { to, left } = k === 0 ? { to: 1, left: 0 } : mixOf(recent[k], recent[apart], recent[0]);
      if (!(left <= MOST_ELSE) || to - before > LARGEST_STEP || to < before - ALONE) return null;
      if (to > ALONE && startFrame < 0) startFrame = frame - k;
      if (to < 1 - ALONE) endFrame = frame - k;
      before = to;
    }
    return startFrame >= 0 && endFrame > startFrame ? { startFrame, endFrame } : null;
  }

  /** Those that lie over one another are one. */
  finish(): Dissolve[] {
    const all: Dissolve[] = [];
    for (const next of this.found.toSorted((a, b) => a.startFrame - b.startFrame)) {
      const last = all[all.length - 1];
      if (!last || next.startFrame > last.endFrame + 1) all.push(next);
      else
        all[all.length - 1] = {
          startFrame: last.startFrame,
          endFrame: Math.max(last.endFrame, next.endFrame),
        };
    }
    return all;
  }
}

/** 1 less the correlation of two pictures that are free of their means. */
const differenceOf = (a: Float64Array, b: Float64Array): number => {
  const [ab, aa, bb] = [productOf(a, b), productOf(a, a), productOf(b, b)];
  return aa > 0 && bb > 0 ? 1 - ab / Math.sqrt(aa * bb) : 0;
};
