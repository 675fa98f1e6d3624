import { ENOUGH } from '../maths/enough.js';
import { median } from '../maths/robust.js';
import { slowCourse } from '../maths/smooth.js';
import type { Level } from '../picture/pyramid.js';
import type { SurroundingStep } from './beside.js';
import { CellSteps, kept } from './cell-steps.js';
import type { CameraMotion, Place } from './camera.js';
import { areOfTheScene, CELLS, isAtTheEdge, placeOf } from './cells.js';
import { INTENDED_MOTION_HZ } from './intended.js';
import { AT_ONE, type Similarity } from './similarity.js';

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

const FIRST_ROOM = 64;
/** Frames that are looked at, evenly spread, to see what goes together: more tell nothing new of a whole shot. */
const LOOKED_AT = 100;
/** A cell that was found in fewer of the frames tells too little. */
const KNOWN = 0.7;
/** Cells go together that lie within the errors of two tiles in half of the frames, or within this share of the way by which they leave what is followed: turn and zoom part them. */
const TOGETHER_SHARE = 0.35;
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
    const plain = new CellSteps(this.steps, this.places);
    const known = Array.from({ length: CELLS }, (_, cell) => cell).filter(
      (cell) => looked.filter((f) => plain.isKnown(f, cell)).length >= KNOWN * looked.length,
    );
    const party = partyIn(plain, looked, known) ?? partyIn(plain.beside(this.leant), looked, known);
    if (!party) return null;
    const steps = this.followed.map((motion, f) => plain.stepOf(f, party, motion));
    const instead = this.followed.map((motion, f) => steps[f]?.motion ?? motion);
    const shaken = shakeOf(this.followed, frameRate);
    const most = (1 - STEADIER) * shaken - STEADIER_PX;
    if (shaken <= AT_ONE || shakeOf(instead, frameRate) > most) return null;
    const cells = new Uint8Array(CELLS);
    for (const cell of party) cells[cell] = 1;
    return { steps, share: party.length / known.length, cells };
  }
}

/**
 * The cells that surround, by how they went beside what was followed; `null` where it is that which surrounds, or nothing does.
 * @param frames that are looked at, @param known the cells that were found in them
 */
const partyIn = (
  steps: CellSteps,
  frames: readonly number[],
  known: readonly number[],
): readonly number[] | null => {
  const edge = known.filter(isAtTheEdge);
  const leaves = (cell: number): number => steps.leaves(frames, cell);
  const withFollowed = edge.filter((cell) => leaves(cell) <= AT_ONE).length;
  if (withFollowed > NEARLY_ALL * edge.length) return null;
  let party: number[] = [];
  for (const first of edge) {
    const within = togetherWithin(leaves(first));
    const all = known.filter((cell) => steps.goTogether(frames, cell, first, within));
    if (atTheEdge(all) > atTheEdge(party)) party = all;
  }
  for (let pass = 0; pass < GROWN && party.length >= ENOUGH; pass++) {
    const within = togetherWithin(median(party.map(leaves)));
    const far = steps.farFromParty(frames, known, party);
    party = known.filter((_, i) => far[i] <= within);
  }
  const surrounds = atTheEdge(party) > Math.max(withFollowed, OF_THE_EDGE * edge.length);
  return surrounds && areOfTheScene(party, known.length) ? party : null;
};

/** How near cells lie that go together, pixels. @param leave how far they leave what is followed */
const togetherWithin = (leave: number): number => Math.max(AT_ONE, TOGETHER_SHARE * leave);

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
