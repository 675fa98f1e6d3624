import type { Shot } from '#terms';
import { mean, median } from '../maths/robust.js';
import type { Level } from '../picture/pyramid.js';
import { DissolveFinder, productOf } from './dissolves.js';

/** A shot of fewer frames shows neither a rhythm nor a path. */
export const LEAST_FRAMES = 12;

/** Whether a shot, or a part of one, has as many frames as it takes to show a rhythm or a path. */
export const isLongEnough = ({ startFrame, endFrame }: Shot): boolean =>
  endFrame - startFrame + 1 >= LEAST_FRAMES;

const COLUMNS = 16;
const ROWS = 9;
/** Dissimilarity (1 − correlation of the coarse pictures) from which a change can be a cut. */
const LEAST_CHANGE = 0.25;
/** A cut stands out from the changes around it by this factor; a fast pan changes every frame alike. */
const STANDS_OUT = 4;
const NEIGHBOURS = 6;

/** Finds cuts and dissolves from coarse pictures of every frame; light alone never makes one. Keeps two numbers a frame. */
export class ShotFinder {
  private readonly recent: Float64Array[] = [];
  /** Change from the frame before, and from the frame before that. */
  private readonly change: number[] = [];
  private readonly changeOverTwo: number[] = [];
  private readonly dissolves = new DissolveFinder();

  take(picture: Level): void {
    const coarse = coarsePicture(picture);
    const [before, twoBefore] = this.recent;
    this.change.push(before ? dissimilarity(before, coarse) : 0);
    this.changeOverTwo.push(twoBefore ? dissimilarity(twoBefore, coarse) : 0);
    this.dissolves.take(coarse);
    this.recent.unshift(coarse);
    this.recent.length = Math.min(2, this.recent.length);
  }

  /**
   * @param goesOn whether the picture before a frame was found again in it, moved along: there is no cut
   * @returns the shots; frames that show two of them, one dissolved into the other, belong to neither
   */
  finish(goesOn: (frame: number) => boolean = () => false): Shot[] {
    const frames = this.change.length;
    const shots: Shot[] = [];
    let startFrame = 0;
    const endBefore = (frame: number, next: number): void => {
      if (frame > startFrame) shots.push({ startFrame, endFrame: frame - 1 });
      startFrame = next;
    };
    const cutUpTo = (frame: number): void => {
      for (let f = startFrame + 1; f < frame; f++) if (this.isCut(f) && !goesOn(f)) endBefore(f, f);
    };
    for (const dissolve of this.dissolves.finish()) {
      cutUpTo(dissolve.startFrame);
      endBefore(dissolve.startFrame, dissolve.endFrame + 1);
    }
    cutUpTo(frames);
    endBefore(frames, frames);
    return shots.length > 0 ? shots : [{ startFrame: 0, endFrame: Math.max(0, frames - 1) }];
  }

  private isCut(f: number): boolean {
    const here = this.change[f];
    if (here < LEAST_CHANGE) return false;
    // A flash or a passing bird goes again: the frame after looks like the frame before.
    const goes = f + 1 < this.change.length && this.changeOverTwo[f + 1] < LEAST_CHANGE / 2;
    const comes = f >= 2 && this.changeOverTwo[f] < LEAST_CHANGE / 2;
    if (goes || comes) return false;
    const around: number[] = [];
    for (let k = -NEIGHBOURS; k <= NEIGHBOURS; k++)
      if (k !== 0 && f + k > 0 && f + k < this.change.length) around.push(this.change[f + k]);
    return around.length === 0 || here > STANDS_OUT * median(around);
  }
}

/** Means over a coarse grid, about their own mean; every other row and column is enough. */
const coarsePicture = ({ width, height, samples }: Level): Float64Array => {
  const cells = new Float64Array(COLUMNS * ROWS);
  const step = width > 200 ? 2 : 1;
  for (let row = 0; row < ROWS; row++)
    for (let column = 0; column < COLUMNS; column++) {
      const [left, right] = [
        Math.floor((column * width) / COLUMNS),
        Math.floor(((column + 1) * width) / COLUMNS),
      ];
      let [sum, count] = [0, 0];
      for (let y = Math.floor((row * height) / ROWS); y < Math.floor(((row + 1) * height) / ROWS); y += step)
        for (let x = left; x < right; x += step) {
          sum += samples[y * width + x];
          count++;
        }
      cells[row * COLUMNS + column] = count > 0 ? sum / count : 0;
    }
  const level = mean(cells);
  return cells.map((v) => v - level);
};

/** Below this contrast (of 65535) a picture is black or blank, and its pattern says nothing. */
const BLANK = 65535 * 0.004;

/** A picture with this much more power than a blank one is plainly there. */
const FULL = 100;

const dissimilarity = (a: Float64Array, b: Float64Array): number => {
  const [ab, aa, bb] = [productOf(a, b), productOf(a, a), productOf(b, b)];
  const blank = BLANK * BLANK * a.length;
  if (aa < blank || bb < blank) {
    // A fade passes through faint pictures; a cut to black comes from a full one.
    const other = Math.max(aa, bb);
    return other > FULL * blank ? LEAST_CHANGE : 0;
  }
  return 1 - ab / Math.sqrt(aa * bb);
};
