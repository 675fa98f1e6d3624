import { CODE_OF_8_BITS } from '../picture/signal.js';
import { ENOUGH, SEVERAL } from '../maths/enough.js';
import { median } from '../maths/robust.js';
import type { Level } from '../picture/pyramid.js';

/** A repeated frame differs from the one before by less than this share of what its neighbours differ by, */
const SHARE = 0.04;
/** and by less than a third of a code of 8 bits, of 65535: where something moves frames differ by more. */
const UNMOVED = (65535 * CODE_OF_8_BITS) / 3;
/** So many to each side say what is usual. */
const NEIGHBOURS = ENOUGH;
/** Coded anew, a frame shown again differs by up to this share of what its neighbours differ by: as little as one at which a hand turns back. */
const CODED_ANEW = 0.22;
/** About such a moment a hand is slow, too; about a frame shown again, movement goes on at this share of the usual or faster. */
const GOES_ON = 0.7;
/** What follows tells: movement that went on meanwhile jumps by this many times the usual, or they come in a rhythm. */
const JUMPS = 1.5;
/** Every so many samples are enough: a prime, so that they lie on many columns. */
const STEP = 13;

/** Finds frames that show the frame before again: a codec may store them with a trace of difference. One number a frame. */
export class RepeatFinder {
  private before: Level | null = null;
  private readonly differences: number[] = [];

  take(picture: Level): void {
    const { before } = this;
    let sum = 0;
    let count = 0;
    if (before?.samples.length === picture.samples.length)
      for (let i = 0; i < picture.samples.length; i += STEP, count++)
        sum += Math.abs(picture.samples[i] - before.samples[i]);
    this.differences.push(count > 0 ? sum / count : Infinity);
    this.before = picture;
  }

  finish(): ReadonlySet<number> {
    const { differences } = this;
    const found = new Set<number>();
    const likely = new Set<number>();
    const faint: number[] = [];
    for (let f = 1; f < differences.length; f++) {
      const here = differences[f];
      const around = differences
        .slice(Math.max(1, f - NEIGHBOURS), f + NEIGHBOURS + 1)
        .filter((d) => d > 0 && Number.isFinite(d));
      // A picture that is held has no neighbours that differ; where they hardly do, nothing moves and a codec leaves out what stays.
      const usual = around.length === 0 ? Infinity : median(around);
      if (usual <= UNMOVED) continue;
      if (here <= UNMOVED && here < SHARE * usual) found.add(f);
      if (here >= CODED_ANEW * usual) continue;
      faint.push(f);
      const beside = [differences[f - 1], differences[f + 1] ?? usual];
      if (beside.some((d) => d < GOES_ON * usual)) continue;
      likely.add(f);
      if (beside[1] > JUMPS * usual) found.add(f);
    }
    const all = new Set([...found, ...likely]);
    const every = cadenceOf(all);
    if (every === null) return found;
    // Of those in the rhythm that a slow moment lies beside, the neighbours in the rhythm tell.
    const inRhythm = faint.filter((f) => all.has(f - every) || all.has(f + every));
    return new Set([...all, ...inRhythm].sort((a, b) => a - b));
  }
}

/**
 * Every how many frames one is shown again; `null` where there is no rhythm: a picture that is held for a while has none. Several
 * make one, half of them so many frames apart.
 */
export const cadenceOf = (repeats: ReadonlySet<number>): number | null => {
  const frames = [...repeats].sort((a, b) => a - b);
  if (frames.length < SEVERAL) return null;
  const gaps = frames.slice(1).map((f, i) => f - frames[i]);
  const times = new Map<number, number>();
  for (const gap of gaps) times.set(gap, (times.get(gap) ?? 0) + 1);
  const [usual, most] = [...times].reduce((a, b) => (b[1] > a[1] || (b[1] === a[1] && b[0] < a[0]) ? b : a));
  return usual > 1 && 2 * most >= gaps.length ? usual : null;
};
