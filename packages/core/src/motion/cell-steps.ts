import { ENOUGH } from '../maths/enough.js';
import { median } from '../maths/robust.js';
import { besideOf, farFrom, nearMedian, stepBeside, type SurroundingStep, type Way } from './beside.js';
import type { Place } from './camera.js';
import { CELLS, rowOf } from './cells.js';
import type { Similarity } from './similarity.js';

/** Steps are kept in hundredths of a pixel: finer than any tile is found. */
const FINE = 100;
const UNKNOWN = -32768;

/** Pixels as a step is kept; what is `NaN` as one that is not known. */
export const kept = (pixels: number): number =>
  Number.isNaN(pixels) ? UNKNOWN : Math.max(UNKNOWN + 1, Math.min(-UNKNOWN - 1, Math.round(FINE * pixels)));

/** How far each cell went beside what was followed, frame by frame. */
export class CellSteps {
  /**
   * @param steps of all cells in all frames, x and y in turn, as they are kept
   * @param places of the middles of the cells
   */
  constructor(
    private readonly steps: Int16Array,
    private readonly places: readonly Place[],
  ) {}

  isKnown(frame: number, cell: number): boolean {
    return this.steps[2 * (frame * CELLS + cell)] !== UNKNOWN;
  }

  /**
   * The same beside the rows of what was followed: read-out leans all that a camera shows.
   * @param leant how far each row lay off in each frame, x and y in turn, as steps are kept
   */
  beside(leant: readonly Int16Array[]): CellSteps {
    const out = this.steps.slice(0, leant.length * 2 * CELLS);
    leant.forEach((rows, f) => {
      for (let cell = 0; cell < CELLS; cell++) {
        if (!this.isKnown(f, cell)) continue;
        const at = 2 * (f * CELLS + cell);
        out[at] -= rows[2 * rowOf(cell)];
        out[at + 1] -= rows[2 * rowOf(cell) + 1];
      }
    });
    return new CellSteps(out, this.places);
  }

  /** How far a cell leaves what is followed: the median over frames, pixels. */
  leaves(frames: readonly number[], cell: number): number {
    const known = frames.filter((f) => this.isKnown(f, cell)).map((f) => 2 * (f * CELLS + cell));
    return known.length > 0
      ? median(known.map((at) => Math.hypot(this.steps[at], this.steps[at + 1]) / FINE))
      : Infinity;
  }

  /** Whether two cells go alike, within so many pixels, in half of the frames in which both are known. */
  goTogether(frames: readonly number[], cell: number, other: number, within: number): boolean {
    const { steps } = this;
    let [both, near] = [0, 0];
    for (const f of frames) {
      if (!this.isKnown(f, cell) || !this.isKnown(f, other)) continue;
      const [a, b] = [2 * (f * CELLS + cell), 2 * (f * CELLS + other)];
      both++;
      if (Math.hypot(steps[a] - steps[b], steps[a + 1] - steps[b + 1]) <= FINE * within) near++;
    }
    return both > 0 && 2 * near >= both;
  }

  /**
   * How far each of some cells lies from where a party of them leads, also as it turns, comes nearer or leans: the median over
   * frames, pixels; `NaN` where none tells.
   */
  farFromParty(frames: readonly number[], cells: readonly number[], party: readonly number[]): number[] {
    const far = cells.map((): number[] => []);
    for (const f of frames) {
      const ways = this.waysOf(f, party);
      if (ways.length < ENOUGH) continue;
      const beside = besideOf(nearMedian(ways));
      cells.forEach((cell, i) => {
        if (this.isKnown(f, cell)) far[i].push(farFrom(beside, this.wayOf(f, cell)));
      });
    }
    return far.map(median);
  }

  /** The motion of some cells into a frame: of those that lie near their median. @param followed in the same frame */
  stepOf(frame: number, cells: readonly number[], followed: Similarity): SurroundingStep | null {
    const ways = this.waysOf(frame, cells);
    return ways.length < ENOUGH ? null : stepBeside(followed, nearMedian(ways));
  }

  private waysOf(frame: number, cells: readonly number[]): Way[] {
    return cells.filter((cell) => this.isKnown(frame, cell)).map((cell) => this.wayOf(frame, cell));
  }

  private wayOf(frame: number, cell: number): Way {
    const at = 2 * (frame * CELLS + cell);
    return {
      ...this.places[cell],
      row: rowOf(cell),
      dx: this.steps[at] / FINE,
      dy: this.steps[at + 1] / FINE,
    };
  }
}
