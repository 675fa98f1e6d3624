import { SEVERAL } from '../../../maths/enough.js';
import { bilinear } from '../../../maths/bilinear.js';
import { median } from '../../../maths/robust.js';
import type { Similarity } from '../../../motion/similarity.js';
import type { Level } from '../../../picture/pyramid.js';
import { mislaid, MISLAID_FROM, MISLAID_STEP, NO_SHIFT, type Shift } from './mislaid.js';
import { Slopes } from './slopes.js';
import { MOST_LOOKS, STEP, UNKNOWN, type Look } from './usual.js';

/** Of the distances apart the largest few that the camera has gone are taken in turn. */
const TURNS = 3;
/** Frames that are kept, at most. */
const MOST_KEPT = 24;
/** Frames are laid over one another again, better, so often. */
const LAID_AGAIN = 2;

/** Frames that are kept, and what they differed by over some distances. */
export class Looks {
  seen: Look[] = [];
  private stride = 1;
  slopes: Slopes | null = null;
  private looks = 0;
  /** Frames that were kept, and where the camera stood in each. */
  private readonly kept: { readonly at: Similarity; readonly logs: Float32Array }[] = [];

  /**
   * @param keepEvery a frame is kept when the camera went this far since the last one, pixels of the picture
   * @param apart how far apart two frames lie that are compared, pixels of the picture
   */
  constructor(
    private readonly keepEvery: number,
    private readonly apart: readonly number[],
  ) {}

  /** What was kept no longer lies under what comes. */
  cut(): void {
    this.kept.length = 0;
  }

  /** Whether there are looks enough; there never come to be fewer. */
  tells(): boolean {
    return this.seen.length >= SEVERAL;
  }

  wants(at: Similarity): boolean {
    const last = this.kept[this.kept.length - 1];
    return !last || distance(at, last.at) >= this.keepEvery;
  }

  take(at: Similarity, logs: Float32Array, size: Pick<Level, 'width' | 'height'>): void {
    // Where the camera has not gone far yet, or never will, the shorter distances serve.
    const farthest = Math.max(0, ...this.kept.map((k) => distance(at, k.at)));
    const apart = this.apart.filter((a) => a <= farthest).slice(-TURNS);
    const far = apart[this.looks % Math.max(1, apart.length)] ?? Infinity;
    const other = this.kept.findLast((k) => distance(at, k.at) >= far);
    if (other) {
      // Of a longer clip not every look is kept: what would not be is not worked out.
      if (this.looks % this.stride === 0) this.compare(other.logs, logs, added(at, other.at, -1), size);
      else this.looks++;
    }
    this.kept.push({ at, logs });
    if (this.kept.length > MOST_KEPT) this.kept.shift();
  }

  private compare(
    before: Float32Array,
    now: Float32Array,
    { dx, dy, zoom, turn }: Similarity,
    { width, height }: Pick<Level, 'width' | 'height'>,
  ): void {
    const ratio = new Float32Array(now.length).fill(NaN);
    /** Frames laid over one another, at every so many places along and down, from one such on. */
    const lay = (shift: Shift, from: number, step: number): void => {
      for (let y = from; y < height; y += step)
        for (let x = from; x < width; x += step) {
          const ux = x - (width - 1) / 2;
          const uy = y - (height - 1) / 2;
          const u = x / width - 0.5;
          const v = y / height - 0.5;
          const px = x - dx - zoom * ux + turn * uy + shift[0] + shift[1] * u + shift[2] * v;
          const py = y - dy - turn * ux - zoom * uy + shift[3] + shift[4] * u + shift[5] * v;
          const lies = px >= 0 && py >= 0 && px < width - 1 && py < height - 1;
          const i = y * width + x;
          ratio[i] = lies ? now[i] - bilinear(before, width, px, py) : NaN;
        }
    };
    let shift = NO_SHIFT;
    for (let again = 0; again < LAID_AGAIN; again++) {
      // Nothing is wanted yet but where it looks.
      lay(shift, MISLAID_FROM, MISLAID_STEP);
      shift = mislaid(ratio, now, { width, height }, shift);
    }
    lay(shift, 0, 1);
    const sampled = ratio.filter((r, i) => i % 29 === 0 && r === r);
    if (sampled.length < 40) return;
    this.slopes ??= new Slopes({ width, height });
    this.slopes.take(now);
    // Light that changed, changed everywhere.
    const light = median(sampled);
    this.seen.push({ steps: inSteps(ratio, light), dx: Math.round(dx), dy: Math.round(dy) });
    // Of a longer clip every second one is kept, then every fourth.
    if (this.seen.length > MOST_LOOKS) {
      this.seen = this.seen.filter((_, i) => i % 2 === 0);
      this.stride *= 2;
    }
    this.looks++;
  }
}

/** What frames differ by beyond a change of light, in whole steps. */
const inSteps = (ratio: Float32Array, light: number): Int8Array => {
  const steps = new Int8Array(ratio.length).fill(UNKNOWN);
  for (let i = 0; i < ratio.length; i++)
    if (!Number.isNaN(ratio[i]))
      steps[i] = Math.max(-127, Math.min(127, Math.round((ratio[i] - light) / STEP)));
  return steps;
};

/** One pose and so many times another. */
export const added = (a: Similarity, b: Similarity, k: number): Similarity => ({
  dx: a.dx + k * b.dx,
  dy: a.dy + k * b.dy,
  zoom: a.zoom + k * b.zoom,
  turn: a.turn + k * b.turn,
});

const distance = (a: Similarity, b: Similarity): number => Math.hypot(a.dx - b.dx, a.dy - b.dy);
