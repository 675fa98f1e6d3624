import { SEVERAL } from '../maths/enough.js';
import { areOfTheScene, CELLS } from './cells.js';
import type { Similarity } from './similarity.js';

/** What is followed has gone on when it lies this far from where it was, pixels: then it is asked what has not. */
const GONE_ON = 1;
/** A cell whose tiles are found within this of where they were, pixels, has not: by the errors of the tiles on the way. */
const STAYED = 0.2;
/** It stands when it stayed in so many of the times that it was asked; less often than this it is not known. */
const NEARLY_ALWAYS = 0.9;

/**
 * Whether a camera stood still through a stretch of frames while what most of its picture showed went on: water, leaves,
 * clouds, a face that fills it. A hand is never still to a fraction of a pixel, nor is what it follows; what stands as still as
 * the sensor in many places throughout says that the sensor stands.
 */
export class Standing {
  /** How far the tiles of each cell went since it was asked last, x and y in turn; `NaN` where they were lost on the way. */
  private readonly went = new Float64Array(2 * CELLS);
  private followed = { dx: 0, dy: 0 };
  /** How often each cell was asked whether it stayed, and how often it had. */
  private readonly asked = new Uint32Array(CELLS);
  private readonly stayed = new Uint32Array(CELLS);

  /**
   * @param motions of the cells into a frame, x and y in turn, pixels; `NaN` where none is known
   * @param motion that was followed into it
   */
  take(motions: Float64Array, motion: Similarity): void {
    const { went, followed } = this;
    for (let i = 0; i < went.length; i++) went[i] += motions[i];
    followed.dx += motion.dx;
    followed.dy += motion.dy;
    if (Math.hypot(followed.dx, followed.dy) < GONE_ON) return;
    for (let cell = 0; cell < CELLS; cell++) {
      const far = Math.hypot(went[2 * cell], went[2 * cell + 1]);
      if (Number.isNaN(far)) continue;
      this.asked[cell]++;
      if (far <= STAYED) this.stayed[cell]++;
    }
    went.fill(0);
    this.followed = { dx: 0, dy: 0 };
  }

  /** Share of the cells that stood all the time; 0 where they are too few, or lie as a title does. */
  share(): number {
    const cells = Array.from({ length: CELLS }, (_, cell) => cell);
    const known = cells.filter((cell) => this.asked[cell] >= SEVERAL);
    const standing = known.filter((cell) => this.stayed[cell] >= NEARLY_ALWAYS * this.asked[cell]);
    return areOfTheScene(standing, known.length) ? standing.length / known.length : 0;
  }
}
