import { mean, median } from '../maths/robust.js';
import { slowCourse } from '../maths/smooth.js';
import type { Level } from '../picture/pyramid.js';
import type { CameraMotion, Place } from './camera.js';
import { CELLS, isAtTheEdge, placeOf, rowOf, ROWS } from './cells.js';
import { INTENDED_MOTION_HZ } from './intended.js';
import type { Similarity } from './similarity.js';

type Size = Pick<Level, 'width' | 'height'>;

/** The motion into one frame of what surrounds a subject, in pixels of the picture. */
export type SurroundingStep = Pick<CameraMotion, 'motion' | 'bands' | 'known' | 'error'>;

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
/** Cells go together that lie within this in half of the frames, pixels: the errors of two tiles. */
const TOGETHER = 0.12;
/** Or within this share of the way by which they leave what is followed: turn and zoom part them. */
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
  private readonly places: readonly Place[];

  /** @param size of the picture, pixels */
  constructor(size: Size) {
    this.places = Array.from({ length: CELLS }, (_, cell) => placeOf(cell, size));
  }

  /**
   * @param motions of the cells, x and y in turn, pixels; `NaN` where none is known
   * @param followed in the same frame
   */
  take(motions: Float64Array, followed: Similarity): void {
    const at = this.followed.length * 2 * CELLS;
    if (at === this.steps.length) {
      const more = new Int16Array(2 * at);
      more.set(this.steps);
      this.steps = more;
    }
    this.followed.push(followed);
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
      (cell) => looked.filter((f) => this.isKnown(f, cell)).length >= KNOWN * looked.length,
    );
    const edge = known.filter(isAtTheEdge);
    const leaves = (cell: number): number => this.leaves(looked, cell);
    const withFollowed = edge.filter((cell) => leaves(cell) <= TOGETHER).length;
    if (withFollowed > NEARLY_ALL * edge.length) return null;
    let party: number[] = [];
    for (const first of edge) {
      const within = togetherWithin(leaves(first));
      const all = known.filter((cell) => this.goTogether(looked, cell, first, within));
      if (atTheEdge(all) > atTheEdge(party)) party = all;
    }
    for (let pass = 0; pass < GROWN && party.length >= LEAST_CELLS; pass++)
      party = this.besideParty(looked, known, party, togetherWithin(median(party.map(leaves))));
    const surrounds = atTheEdge(party) > Math.max(withFollowed, OF_THE_EDGE * edge.length);
    if (
      !surrounds ||
      party.length < LEAST_SHARE * known.length ||
      new Set(party.map(rowOf)).size < LEAST_ROWS
    )
      return null;
    const steps = this.followed.map((_, f) => this.stepOf(f, party));
    const instead = this.followed.map((motion, f) => steps[f]?.motion ?? motion);
    const shaken = shakeOf(this.followed, frameRate);
    const most = (1 - STEADIER) * shaken - STEADIER_PX;
    if (shaken <= TOGETHER || shakeOf(instead, frameRate) > most) return null;
    const cells = new Uint8Array(CELLS);
    for (const cell of party) cells[cell] = 1;
    return { steps, share: party.length / known.length, cells };
  }

  private isKnown(frame: number, cell: number): boolean {
    return this.steps[2 * (frame * CELLS + cell)] !== UNKNOWN;
  }

  /** How far a cell leaves what is followed: the median over frames, pixels. */
  private leaves(frames: readonly number[], cell: number): number {
    const known = frames.filter((f) => this.isKnown(f, cell)).map((f) => 2 * (f * CELLS + cell));
    return known.length > 0
      ? median(known.map((at) => Math.hypot(this.steps[at], this.steps[at + 1]) / FINE))
      : Infinity;
  }

  /** Whether two cells go alike, within so many pixels, in half of the frames in which both are known. */
  private goTogether(frames: readonly number[], cell: number, other: number, within: number): boolean {
    let [both, near] = [0, 0];
    for (const f of frames) {
      if (!this.isKnown(f, cell) || !this.isKnown(f, other)) continue;
      const [a, b] = [2 * (f * CELLS + cell), 2 * (f * CELLS + other)];
      both++;
      const far = Math.hypot(this.steps[a] - this.steps[b], this.steps[a + 1] - this.steps[b + 1]);
      if (far <= FINE * within) near++;
    }
    return both > 0 && 2 * near >= both;
  }

  /** All cells that go where a party of them leads, also as it turns, comes nearer or leans: in half of the frames. */
  private besideParty(
    frames: readonly number[],
    known: readonly number[],
    party: readonly number[],
    within: number,
  ): number[] {
    const far = known.map((): number[] => []);
    for (const f of frames) {
      const ways = this.waysOf(f, party);
      if (ways.length < LEAST_CELLS) continue;
      const beside = besideOf(nearMedian(ways));
      known.forEach((cell, i) => {
        if (!this.isKnown(f, cell)) return;
        const way = this.wayOf(f, cell);
        far[i].push(
          Math.hypot(offX(beside, way) - beside.leanX * way.y, offY(beside, way) - beside.leanY * way.y),
        );
      });
    }
    return known.filter((_, i) => far[i].length > 0 && median(far[i]) <= within);
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

  private waysOf(frame: number, cells: readonly number[]): Way[] {
    return cells.filter((cell) => this.isKnown(frame, cell)).map((cell) => this.wayOf(frame, cell));
  }

  /** The motion of some cells into a frame: of those that lie near their median. */
  private stepOf(frame: number, cells: readonly number[]): SurroundingStep | null {
    const ways = this.waysOf(frame, cells);
    return ways.length < LEAST_CELLS ? null : stepBeside(this.followed[frame], nearMedian(ways));
  }
}
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

/** A place about the middle of the picture, its row of cells, and how far it went beside what was followed. */
interface Way extends Place {
  readonly row: number;
  readonly dx: number;
  readonly dy: number;
}

/** Those that lie near the median of all. */
const nearMedian = (ways: readonly Way[]): readonly Way[] => {
  const [dx, dy] = [median(ways.map((w) => w.dx)), median(ways.map((w) => w.dy))];
  const off = ways.map((w) => Math.hypot(w.dx - dx, w.dy - dy));
  const most = Math.max(TOGETHER, 3 * median(off));
  return ways.filter((_, i) => off[i] <= most);
};

/** How places go beside what was followed, pixels of the middle; what that grows by from row to row; turn and zoom. */
interface Beside {
  readonly dx: number;
  readonly dy: number;
  readonly leanX: number;
  readonly leanY: number;
  readonly zoom: number;
  readonly turn: number;
}

/** Least squares. As with the camera, turn and zoom come from what changes along the rows alone. */
const besideOf = (ways: readonly Way[]): Beside => {
  const along = { spread: 0, x: 0, y: 0 };
  for (const row of inRows(ways)) {
    const middle = mean(row.map((w) => w.x));
    for (const { x, dx, dy } of row) {
      along.spread += (x - middle) ** 2;
      along.x += (x - middle) * dx;
      along.y += (x - middle) * dy;
    }
  }
  const [zoom, turn] = along.spread > 0 ? [along.x / along.spread, along.y / along.spread] : [0, 0];
  const turned = { dx: 0, dy: 0, zoom, turn };
  const [x, y] = [offX, offY].map((off) => lineAtMiddle(ways, (w) => off(turned, w)));
  return { dx: x.value, dy: y.value, leanX: x.slope, leanY: y.slope, zoom, turn };
};

/** How far a place lies off, its lean apart. */
const offX = ({ dx, zoom, turn }: Omit<Beside, 'leanX' | 'leanY'>, w: Way): number =>
  w.dx - dx - zoom * w.x + turn * w.y;
const offY = ({ dy, zoom, turn }: Omit<Beside, 'leanX' | 'leanY'>, w: Way): number =>
  w.dy - dy - turn * w.x - zoom * w.y;

const inRows = (ways: readonly Way[]): readonly (readonly Way[])[] =>
  Array.from({ length: ROWS }, (_, row) => ways.filter((w) => w.row === row));

/** The motion of places; each row keeps a displacement of its own, and that of the middle lies on the line through them. */
const stepBeside = (followed: Similarity, ways: readonly Way[]): SurroundingStep => {
  const beside = besideOf(ways);
  const motion = {
    dx: followed.dx + beside.dx,
    dy: followed.dy + beside.dy,
    zoom: followed.zoom + beside.zoom,
    turn: followed.turn + beside.turn,
  };
  const rows = inRows(ways);
  const errorOf = (off: (w: Way) => number): number =>
    Math.sqrt(mean(ways.map((w) => off(w) ** 2)) / ways.length);
  return {
    motion,
    bands: Float64Array.from({ length: 2 * ROWS }, (_, i) =>
      i % 2 === 0
        ? motion.dx + mean(rows[i >> 1].map((w) => offX(beside, w)))
        : motion.dy + mean(rows[i >> 1].map((w) => offY(beside, w))),
    ),
    known: Float64Array.from({ length: 2 * ROWS }, (_, i) => rows[i >> 1].length),
    error: {
      x: errorOf((w) => offX(beside, w) - beside.leanX * w.y),
      y: errorOf((w) => offY(beside, w) - beside.leanY * w.y),
    },
  };
};

/** The line over the rows that lies nearest to what places tell, and its value at the middle row. */
const lineAtMiddle = (ways: readonly Way[], of: (w: Way) => number): { value: number; slope: number } => {
  const [y, v] = [mean(ways.map((w) => w.y)), mean(ways.map(of))];
  const spread = ways.reduce((sum, w) => sum + (w.y - y) ** 2, 0);
  const slope = spread > 0 ? ways.reduce((sum, w) => sum + (w.y - y) * of(w), 0) / spread : 0;
  return { value: v - slope * y, slope };
};
