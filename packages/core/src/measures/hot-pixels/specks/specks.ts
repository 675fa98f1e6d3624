import { SEVERAL } from '../../../maths/enough.js';
import type { ClipFacts } from '#terms';
import { BY_CHANCE, chanceOf, sigmasBeyondAll } from '../../../maths/chance.js';
import { bilinearWithin } from '../../../maths/bilinear.js';
import { MAD_TO_SIGMA, median } from '../../../maths/robust.js';
import type { MotionAnalysis } from '../../../motion/motion-analysis.js';
import type { Level } from '../../../picture/pyramid.js';
import { smallScale } from '../../../picture/signal.js';
import type { Measure, RunningMeasure } from '../../measure.js';
import { EDGE, gain, netOf, standingAlone, standsOut, usualDifference } from './neighbours.js';
import type { Place } from '../place.js';
import { AT_ONCE, foundAgain, withSpecksLaidIn, type Seen } from './laid-in.js';
import { KeptSpecks } from './kept.js';
import { areScattered } from './scattered.js';
import type { Speck, Specks } from './values.js';
import { rounded } from '../../../maths/round.js';
import { boxAbout, connectedTo, shareIn } from '../../../maths/components.js';

/** A speck stands out by this share of the range, and out of what else changes by more than a pixel of a picture would by chance. */
const LEAST_CONTRAST = 0.035;
/** About a speck, this far, pixels of the small view, all three frames show the same scene, but for what else flies there in one; */
const AROUND = 16;
/** what passes, and comes and goes with its parts, changes more of that than this. */
const MOST_PASSING = 0.3;
/** What is laid in lies this far within what is looked at. */
const CLEAR = 4;
/** Where more of the picture than this goes its own way, what comes and goes is a part of that. */
const MOST_OTHERWISE = 0.2;
/** A frame in which they lie close to each other shows something else that moves (a train, water, leaves), and so do those close to it. */
const BUSY_ABOUT = 4;

/** Parts of the picture: one in which they come in more frames than they would by chance in any, moves by itself. */
const COLUMNS = 24;
const ROWS = 14;
const MOST_FRAMES_LISTED = 2000;
/** So many are kept of a clip, however long it is. */
const MOST_KEPT = 14_000;
/** A single pixel of the small view is most often fine detail that fell between two pixels. */
const LEAST_PIXELS = 2;
/** A thin or small thing of the scene falls now on one pixel of the small view, now between two, and shows half as much there. */
const SHOWS = 0.5;
/** What such a thing takes from one pixel it gives to the next: the mean about it stays. A speck changes it by this share of itself. */
const LEAST_NET = 0.3;
/** Pixels of the small view. */
const BESIDE = 34;
/** Specks of several frames tell how others look: some like them are laid into every so many frames, of so many frames at most. */
const LAID_IN_EVERY = 2;
const MOST_LAID_IN = 24;
/** One that was laid in is found within this, pixels of the small view. */
const AGAIN = 3;

/** The specks of a clip, and the standard error of how many a frame has. */
export interface SpecksFound {
  readonly specks: Specks;
  readonly perFrameError: number;
}

/** What is there one frame and neither before nor after: dirt, insects, birds. Works on the small view, three frames at a time. */
export const specks: Measure<SpecksFound | null> = {
  begin: (clip, motion) => new RunningSpecks(clip, motion),
};

class RunningSpecks implements RunningMeasure<SpecksFound | null> {
  private twoBefore: Level | null = null;
  /** Motion from two frames before to the frame before, pixels of the small view. */
  private stepBefore: Step | null = null;
  private frame = -1;
  /** Frames that were set against their neighbours. */
  private readonly frames: number[] = [];
  /** Share of the picture away from its edges. */
  private lookedAt = 1;
  private readonly found = new KeptSpecks<Found>(MOST_KEPT);
  /** What was laid in: the frame, the part of the picture, and whether it was found. */
  private readonly laidIn: { frame: number; cell: number; again: boolean }[] = [];
  private framesLaidIn = 0;
  private readonly busy: number[] = [];
  private readonly lively = new Float64Array(COLUMNS * ROWS);
  /** Places of the frame that stand alone: 1, and 2 once they belong to a speck. Nothing between two frames. */
  private on = new Uint8Array(0);

  constructor(
    private readonly clip: Pick<ClipFacts, 'bitDepth' | 'range' | 'width' | 'height'>,
    private readonly motion: MotionAnalysis,
  ) {}

  take(): void {
    this.frame++;
    const { before, full, registration, picture } = this.motion;
    const k = picture.width > 0 ? full.width / picture.width : 1;
    const step = registration && {
      dx: registration.motion.dx * k,
      dy: registration.motion.dy * k,
      turn: registration.motion.turn,
    };
    const follows = (this.motion.stepNow?.otherwise ?? 1) <= MOST_OTHERWISE;
    if (follows && this.twoBefore && before && step && this.stepBefore) {
      this.frames.push(this.frame - 1);
      const others = { previous: this.twoBefore, next: full, toMiddle: this.stepBefore, toNext: step };
      this.store(this.look(before, others));
      this.layIn(before, others);
    }
    this.twoBefore = before;
    this.stepBefore = step;
  }

  /** What is found in a frame. */
  private look(middle: Level, { previous, next, toMiddle, toNext }: Others): Found[] {
    const { scale, leftOut, outliersNow } = this.motion;
    const { width, height } = middle;
    this.lookedAt = Math.max(0.1, (1 - (2 * EDGE) / width) * (1 - (2 * EDGE) / height));
    const { black, span } = smallScale(this.clip);
    const gains = [gain(middle, previous, black), gain(middle, next, black)];
    const [ga, gb] = gains;
    const shiftOf = (step: Step, y: number): { dx: number; dy: number } => ({
      dx: Math.round(step.dx - step.turn * (y - height / 2)),
      dy: Math.round(step.dy),
    });
    const usual = usualDifference(middle, previous, shiftOf(toMiddle, height / 2), ga, black);
    if (usual === null) return [];
    const threshold = Math.max(LEAST_CONTRAST * span, sigmasBeyondAll(width * height) * MAD_TO_SIGMA * usual);
    const places = {
      previous,
      middle,
      next,
      toMiddle: (y: number) => shiftOf(toMiddle, y),
      toNext: (y: number) => shiftOf(toNext, y),
    };
    const candidates = standingAlone(places, gains, black, threshold, leftOut);
    if (candidates.length === 0) return [];
    if (this.on.length !== middle.samples.length) this.on = new Uint8Array(middle.samples.length);
    const { on } = this;
    for (const i of candidates) on[i] = 1;
    // The same place of the scene a frame before, in the light of this one.
    const before = (i: number): number => {
      const [x, y] = [i % width, Math.floor(i / width)];
      const { dx, dy } = shiftOf(toMiddle, y);
      return black + ga * (previous.samples[(y - dy) * width + x - dx] - black);
    };
    // And a frame after.
    const after = (i: number): number => {
      const [x, y] = [i % width, Math.floor(i / width)];
      const { dx, dy } = shiftOf(toNext, y);
      return black + gb * (next.samples[(y + dy) * width + x + dx] - black);
    };
    // Both as the camera went, not by whole pixels.
    const between = (side: Level, sign: number, step: Step, light: number) => (i: number) => {
      const [x, y] = [i % width, Math.floor(i / width)];
      const dx = step.dx - step.turn * (y - height / 2);
      const value = bilinearWithin(side.samples, width, height, x + sign * dx, y + sign * step.dy);
      return black + light * (value - black);
    };
    const exactly = [between(previous, -1, toMiddle, ga), between(next, 1, toNext, gb)] as const;
    const sides = { before, after, exactly, unlike: threshold };
    const found = gather(on, candidates, middle, sides, scale, span, outliersNow);
    for (const i of candidates) on[i] = 0;
    return found;
  }

  private store(specks: Found[]): void {
    const frame = this.frame - 1;
    for (const cell of new Set(specks.map((s) => s.cell))) this.lively[cell]++;
    if (this.isBusy(specks)) this.busy.push(frame);
    else if (specks.length > 0) this.found.add(frame, specks);
  }

  /** Whether what was found in a frame is more likely the parts of something that moves. */
  private isBusy(specks: readonly Found[]): boolean {
    const { width, height } = this.motion.full;
    const within = { width: width - 2 * EDGE, height: height - 2 * EDGE };
    return !areScattered(
      specks.map((s) => s.at),
      within,
    );
  }

  /**
   * Looks once more, with specks laid in like those that were found: in front of what is as dark or as light as they, and
   * beside what moves, not all are. How many are found again is how many of the others were.
   */
  private layIn(middle: Level, others: Others): void {
    const frame = this.frame - 1;
    if (this.found.frames.length < SEVERAL || this.framesLaidIn >= MOST_LAID_IN || frame % LAID_IN_EVERY > 0)
      return;
    const seen = this.found.frames.flatMap((f) => f.specks);
    const { level, places } = withSpecksLaidIn(
      middle,
      seen,
      AT_ONCE * this.framesLaidIn,
      EDGE + CLEAR,
      this.motion.leftOut,
    );
    const all = this.look(level, others);
    this.framesLaidIn++;
    for (const place of places) {
      const again = all.some((s) => Math.hypot(s.at.x - place.x, s.at.y - place.y) <= AGAIN);
      this.laidIn.push({ frame, cell: cellOf(place, middle), again });
    }
  }

  /** @returns `null` where too few frames could be set against both of their neighbours, or too much moves in them */
  finish(): SpecksFound | null {
    if (this.frames.length < 3) return null;
    const anywhere = this.lively.reduce((sum, n) => sum + n, 0) / this.lively.length;
    const isLively = Array.from(this.lively, (n) => chanceOf(n, anywhere) < BY_CHANCE / this.lively.length);
    const shots = this.motion.shots();
    const aboutBusy = new Set(
      this.busy.flatMap((b) => Array.from({ length: 2 * BUSY_ABOUT + 1 }, (_, i) => b - BUSY_ABOUT + i)),
    );
    const inside = (frame: number): boolean =>
      shots.some((s) => frame > s.startFrame && frame < s.endFrame) && !aboutBusy.has(frame);
    const frames = this.found.frames
      .filter((f) => inside(f.frame))
      .map(({ frame, specks }) => ({
        frame,
        specks: specks
          .filter((s) => !isLively[s.cell])
          .map(({ x, y, areaPx, contrastPct }) => ({ x, y, areaPx, contrastPct })),
      }))
      .filter((f) => f.specks.length > 0);
    const all = frames.flatMap((f) => f.specks);
    // What was not looked at has as many as the rest.
    const quiet = this.frames.filter(inside);
    const counted = quiet.filter((f) => this.found.has(f)).length;
    if (counted === 0) return null;
    // Neither do those that were laid in where others are not counted.
    const told = this.laidIn.filter((l) => inside(l.frame));
    const again = told.filter((l) => l.again && !isLively[l.cell]).length;
    const { times, error } = foundAgain(all.length, told.length, again);
    const areas = all.map((s) => s.areaPx);
    const perFrame = (times * all.length) / counted / this.lookedAt;
    return {
      specks: {
        perFrame: round(perFrame),
        medianAreaPx: areas.length > 0 ? round(median(areas)) : 0,
        largestPct:
          areas.length > 0 ? round((100 * Math.max(...areas)) / (this.clip.width * this.clip.height)) : 0,
        frames: frames.slice(0, MOST_FRAMES_LISTED),
      },
      perFrameError: round(error * perFrame),
    };
  }
}

/** A speck that was found, with where in the small view it lies and how it looks there. */
type Found = Speck & Seen & { readonly cell: number; readonly at: Place };

/** How the camera went from one frame to the next, pixels of the small view. */
interface Step {
  readonly dx: number;
  readonly dy: number;
  readonly turn: number;
}

/** The frames before and after one, and the way of the camera between them. */
interface Others {
  readonly previous: Level;
  readonly next: Level;
  readonly toMiddle: Step;
  readonly toNext: Step;
}

/** The part of the picture that a place lies in. */
const cellOf = ({ x, y }: Place, { width, height }: Pick<Level, 'width' | 'height'>): number =>
  Math.min(ROWS - 1, Math.floor((y / height) * ROWS)) * COLUMNS +
  Math.min(COLUMNS - 1, Math.floor((x / width) * COLUMNS));

/** Joins what was found to specks. */
const gather = (
  on: Uint8Array,
  candidates: readonly number[],
  { width, height, samples }: Level,
  { before, after, exactly, unlike }: Sides,
  scale: { x: number; y: number },
  span: number,
  outliers: readonly { x: number; y: number }[],
): Found[] => {
  const specks: Found[] = [];
  const [exactlyBefore, exactlyAfter] = exactly;
  const differ = (a: number, b: number): boolean => Math.abs(a - b) > unlike;
  /** Whether a place of the scene is another one in any of the three frames. */
  const changes = (i: number): boolean => {
    const a = exactlyBefore(i);
    if (differ(samples[i], a)) return true;
    const b = exactlyAfter(i);
    return differ(samples[i], b) || differ(a, b);
  };
  for (const start of candidates) {
    if (on[start] !== 1) continue;
    on[start] = 2;
    const members = connectedTo(start, width, height, (j) => {
      if (on[j] !== 1) return false;
      on[j] = 2;
      return true;
    });
    let [sx, sy, contrast, plainest] = [0, 0, 0, start];
    for (const i of members) {
      sx += i % width;
      sy += Math.floor(i / width);
      const c = samples[i] - before(i);
      if (Math.abs(c) > Math.abs(contrast)) [contrast, plainest] = [c, i];
    }
    const n = members.length;
    if (n < LEAST_PIXELS) continue;
    const stood = (side: Sides['before']): number => standsOut(side, plainest, width, contrast);
    if (Math.min(stood(before), stood(after)) > SHOWS * Math.abs(contrast)) continue;
    const net = exactly.map((side) => netOf(samples, side, plainest, width) / contrast);
    if (Math.min(...net) < LEAST_NET) continue;
    const [x, y] = [sx / n, sy / n];
    // Beside something that moves, its own parts come and go.
    const moving = outliers.filter((s) => Math.abs(s.x - x) < BESIDE && Math.abs(s.y - y) < BESIDE);
    // A speck itself misleads a tile or two.
    if (moving.length >= SEVERAL) continue;
    if (shareIn(boxAbout(members, width, height, AROUND, EDGE), width, changes) > MOST_PASSING) continue;
    specks.push({
      x: round((x + 0.5) * scale.x),
      y: round((y + 0.5) * scale.y),
      areaPx: round(n * scale.x * scale.y),
      contrastPct: round((100 * contrast) / span),
      cell: cellOf({ x, y }, { width, height }),
      at: { x, y },
      contrast,
      ground: samples[plainest] - contrast,
      pixels: n,
    });
  }
  return specks;
};

/** The same place of the scene a frame before and a frame after, codes, and by how much these must differ to be unlike. */
interface Sides {
  readonly before: (index: number) => number;
  readonly after: (index: number) => number;
  /** The same between its pixels. */
  readonly exactly: readonly [before: (index: number) => number, after: (index: number) => number];
  readonly unlike: number;
}

/** Decimal places of its readings. */
const DIGITS = 2;
const round = (v: number): number => rounded(v, DIGITS);
