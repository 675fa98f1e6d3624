import { median } from '../maths/robust.js';
import { slowCourse } from '../maths/smooth.js';
import type { Level } from '../picture/pyramid.js';
import {
  besideOf,
  farFrom,
  nearMedian,
  stepBeside,
  TOGETHER,
  type SurroundingStep,
  type Way,
} from './beside.js';
import type { CameraMotion, Place } from './camera.js';
import { CELLS, isAtTheEdge, placeOf, rowOf } from './cells.js';
import { INTENDED_MOTION_HZ } from './intended.js';
import type { Similarity } from './similarity.js';

type Size = Pick<Level, 'width' | 'height'>;

/** What surrounds a subject that was followed in its stead. */
export interface Surroundings {
  /** Into each frame of the record; `null` where too little of them was found. */
  readonly steps: readonly (SurroundingStep | null)[];
  /** Share of the cells that are known which go with them. */
  readonly share: number;
  /** 1 for each cell that goes with them. */
  readonly cells: Uint8Array;
}

/** Steps are kept in hundredths of a pixel: finer than any tile is found. */
const FINE = 100;
const UNKNOWN = -32768;
const FIRST_ROOM = 64;
/** Frames that are looked at, evenly spread, to see what goes together: more tell nothing new of a whole shot. */
const LOOKED_AT = 100;
/** A cell that was found in fewer of the frames tells too little. */
const KNOWN = 0.7;
/** Cells go together that lie within the errors of two tiles in half of the frames, or within this share of the way by which they leave what is followed: turn and zoom part them. */
const TOGETHER_SHARE = 0.35;
/** Fewer cells in fewer rows are a title, or a limb. */
const LEAST_SHARE = 0.08;
const LEAST_ROWS = 4;
/** They surround: more of the edge of the picture is theirs than goes with what was followed, and at least so much. */
const OF_THE_EDGE = 0.3;
/** Where nearly all of the edge goes with what was followed, that is what surrounds. */
const NEARLY_ALL = 0.8;
/**
 * A hand shakes all that its camera shows: what shakes less than what was followed is nearer to the hand. By this share and so
 * many pixels, as far as a reading may be off: places that are hardly known fall short of where they went.
 */
const STEADIER = 0.04;
const STEADIER_PX = 0.03;
/** So often all cells are asked anew whether they go with those that do. */
const GROWN = 2;
/** Cells that tell a motion with its turn and its zoom. */
const LEAST_CELLS = 6;

/** How far each cell went beside what was followed, frame by frame, through one stretch of frames. */
export class CellRecord {
  private steps = new Int16Array(FIRST_ROOM * 2 * CELLS);
  private readonly followed: Similarity[] = [];
  /** How far each row of what was followed lay off that in each frame, x and y in turn, as `steps` are kept. */
  private readonly leant: Int16Array[] = [];
  private readonly places: readonly Place[];

  /** @param size of the picture, pixels */
  constructor(size: Size) {
    this.places = Array.from({ length: CELLS }, (_, cell) => placeOf(cell, size));
  }

  /**
   * @param motions of the cells, x and y in turn, pixels; `NaN` where none is known
   * @param camera what was followed in the same frame
   */
  take(motions: Float64Array, { motion: followed, bands }: Pick<CameraMotion, 'motion' | 'bands'>): void {
    const at = this.followed.length * 2 * CELLS;
    if (at === this.steps.length) {
      const more = new Int16Array(2 * at);
      more.set(this.steps);
      this.steps = more;
    }
    this.followed.push(followed);
    const own = Float64Array.from(bands, (v, i) => v - (i % 2 === 0 ? followed.dx : followed.dy));
    this.leant.push(Int16Array.from(own, (v) => (Number.isNaN(v) ? 0 : kept(v))));
    for (let cell = 0; cell < CELLS; cell++) {
      const { x, y } = this.places[cell];
      this.steps[at + 2 * cell] = kept(
        motions[2 * cell] - followed.dx - followed.zoom * x + followed.turn * y,
      );
      this.steps[at + 2 * cell + 1] = kept(
        motions[2 * cell + 1] - followed.dy - followed.turn * x - followed.zoom * y,
      );
    }
  }

  /**
   * What surrounds a subject, where what was followed through the stretch is that subject: cells that go together along the
   * edge of the picture, and shake less. About a million comparisons where much of the edge leaves what was followed.
   * @returns `null` where there is nothing of the kind
   */
  surroundings(frameRate: number): Surroundings | null {
    const frames = this.followed.length;
    const looked = evenly(frames, LOOKED_AT);
    const known = Array.from({ length: CELLS }, (_, cell) => cell).filter(
      (cell) => looked.filter((f) => isKnown(this.steps, f, cell)).length >= KNOWN * looked.length,
    );
    const party =
      partyIn(this.steps, looked, known, this.places) ?? partyIn(this.upright(), looked, known, this.places);
    if (!party) return null;
    const steps = this.followed.map((_, f) => this.stepOf(f, party));
    const instead = this.followed.map((motion, f) => steps[f]?.motion ?? motion);
    const shaken = shakeOf(this.followed, frameRate);
    const most = (1 - STEADIER) * shaken - STEADIER_PX;
    if (shaken <= TOGETHER || shakeOf(instead, frameRate) > most) return null;
    const cells = new Uint8Array(CELLS);
    for (const cell of party) cells[cell] = 1;
    return { steps, share: party.length / known.length, cells };
  }

  /** How far each cell went beside its row of what was followed: read-out leans all that a camera shows. */
  private upright(): Int16Array {
    const out = this.steps.slice(0, this.followed.length * 2 * CELLS);
    this.leant.forEach((rows, f) => {
      for (let cell = 0; cell < CELLS; cell++) {
        if (!isKnown(out, f, cell)) continue;
        const at = 2 * (f * CELLS + cell);
        out[at] -= rows[2 * rowOf(cell)];
        out[at + 1] -= rows[2 * rowOf(cell) + 1];
      }
    });
    return out;
  }

  /** The motion of some cells into a frame: of those that lie near their median. */
  private stepOf(frame: number, cells: readonly number[]): SurroundingStep | null {
    const ways = waysOf(this.steps, frame, cells, this.places);
    return ways.length < LEAST_CELLS ? null : stepBeside(this.followed[frame], nearMedian(ways));
  }
}

const isKnown = (steps: Int16Array, frame: number, cell: number): boolean =>
  steps[2 * (frame * CELLS + cell)] !== UNKNOWN;

/**
 * The cells that surround, by how they went beside what was followed; `null` where it is that which surrounds, or nothing does.
 * @param steps of all cells in all frames, @param frames that are looked at, @param known the cells that were found in them
 */
const partyIn = (
  steps: Int16Array,
  frames: readonly number[],
  known: readonly number[],
  places: readonly Place[],
): readonly number[] | null => {
  const edge = known.filter(isAtTheEdge);
  const leaves = (cell: number): number => leavesBy(steps, frames, cell);
  const withFollowed = edge.filter((cell) => leaves(cell) <= TOGETHER).length;
  if (withFollowed > NEARLY_ALL * edge.length) return null;
  let party: number[] = [];
  for (const first of edge) {
    const within = togetherWithin(leaves(first));
    const all = known.filter((cell) => goTogether(steps, frames, cell, first, within));
    if (atTheEdge(all) > atTheEdge(party)) party = all;
  }
  for (let pass = 0; pass < GROWN && party.length >= LEAST_CELLS; pass++)
    party = grown(steps, frames, known, party, togetherWithin(median(party.map(leaves))), places);
  const surrounds =
    atTheEdge(party) > Math.max(withFollowed, OF_THE_EDGE * edge.length) &&
    party.length >= LEAST_SHARE * known.length &&
    new Set(party.map(rowOf)).size >= LEAST_ROWS;
  return surrounds ? party : null;
};

/** How far a cell leaves what is followed: the median over frames, pixels. */
const leavesBy = (steps: Int16Array, frames: readonly number[], cell: number): number => {
  const known = frames.filter((f) => isKnown(steps, f, cell)).map((f) => 2 * (f * CELLS + cell));
  return known.length > 0 ? median(known.map((at) => Math.hypot(steps[at], steps[at + 1]) / FINE)) : Infinity;
};

/** Whether two cells go alike, within so many pixels, in half of the frames in which both are known. */
const goTogether = (
  steps: Int16Array,
  frames: readonly number[],
  cell: number,
  other: number,
  within: number,
): boolean => {
  let [both, near] = [0, 0];
  for (const f of frames) {
    if (!isKnown(steps, f, cell) || !isKnown(steps, f, other)) continue;
    const [a, b] = [2 * (f * CELLS + cell), 2 * (f * CELLS + other)];
    both++;
    if (Math.hypot(steps[a] - steps[b], steps[a + 1] - steps[b + 1]) <= FINE * within) near++;
  }
  return both > 0 && 2 * near >= both;
};

/** All cells that go where a party of them leads, also as it turns, comes nearer or leans: in half of the frames. */
const grown = (
  steps: Int16Array,
  frames: readonly number[],
  known: readonly number[],
  party: readonly number[],
  within: number,
  places: readonly Place[],
): number[] => {
  const far = known.map((): number[] => []);
  for (const f of frames) {
    const ways = waysOf(steps, f, party, places);
    if (ways.length < LEAST_CELLS) continue;
    const beside = besideOf(nearMedian(ways));
    known.forEach((cell, i) => {
      if (isKnown(steps, f, cell)) far[i].push(farFrom(beside, wayOf(steps, f, cell, places)));
    });
  }
  return known.filter((_, i) => far[i].length > 0 && median(far[i]) <= within);
};

const wayOf = (steps: Int16Array, frame: number, cell: number, places: readonly Place[]): Way => {
  const at = 2 * (frame * CELLS + cell);
  return { ...places[cell], row: rowOf(cell), dx: steps[at] / FINE, dy: steps[at + 1] / FINE };
};

const waysOf = (
  steps: Int16Array,
  frame: number,
  cells: readonly number[],
  places: readonly Place[],
): Way[] =>
  cells.filter((cell) => isKnown(steps, frame, cell)).map((cell) => wayOf(steps, frame, cell, places));

/** How near cells lie that go together, pixels. @param leave how far they leave what is followed */
const togetherWithin = (leave: number): number => Math.max(TOGETHER, TOGETHER_SHARE * leave);

const kept = (pixels: number): number =>
  Number.isNaN(pixels) ? UNKNOWN : Math.max(UNKNOWN + 1, Math.min(-UNKNOWN - 1, Math.round(FINE * pixels)));

/** Frames spread evenly over so many: all of them where they are few. */
const evenly = (frames: number, most: number): number[] =>
  Array.from({ length: Math.min(frames, most) }, (_, i) => Math.floor((i * frames) / Math.min(frames, most)));

const atTheEdge = (cells: readonly number[]): number => cells.filter(isAtTheEdge).length;

/** What is faster than an operator's move in a course of steps: RMS, pixels. */
const shakeOf = (steps: readonly Similarity[], frameRate: number): number => {
  const power = (of: (m: Similarity) => number): number => {
    let at = 0;
    const path = Float64Array.from(steps, (step) => (at += of(step)));
    const course = slowCourse(path, frameRate, INTENDED_MOTION_HZ);
    return path.reduce((sum, v, f) => sum + (v - course[f]) ** 2, 0) / path.length;
  };
  return Math.sqrt(power((m) => m.dx) + power((m) => m.dy));
};
