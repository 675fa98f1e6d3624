import type { ClipFacts } from '#terms';
import { kernels } from '../../../kernels/kernels.js';
import { bilinearWithin } from '../../../maths/bilinear.js';
import { MAD_TO_SIGMA, median } from '../../../maths/robust.js';
import type { MotionAnalysis } from '../../../motion/motion-analysis.js';
import type { Level } from '../../../picture/pyramid.js';
import { smallScale } from '../../../picture/signal.js';
import type { Measure, RunningMeasure } from '../../measure.js';
import type { Speck, Specks } from './values.js';
import { rounded } from '../../../maths/round.js';
import { boxAbout, connectedTo, shareIn } from '../../../maths/components.js';

/** A speck stands out by this share of the range, and this many sigmas of what else changes. */
const LEAST_CONTRAST = 0.035;
const STANDS_OUT = 7;
/** How far about its place the neighbouring frames are searched for what could be the same thing, pixels of the small view. */
const ABOUT = 5;
/** Nearer to the edge a neighbouring frame may not show the place. */
const EDGE = ABOUT + 2;
/** About a speck, this far, the frames before and after show the same scene, but for what else flies there in either. */
const AROUND = 4;
const MOST_PASSING = 0.4;
/** A larger thing is not a speck: share of the picture. */
const LARGEST = 0.02;
/** Where more of the picture than this goes its own way, what comes and goes is a part of that. */
const MOST_OTHERWISE = 0.2;
/** A frame with more of them shows something else that moves: a train, water, leaves; and so do the frames close to it. */
const MOST_IN_FRAME = 7;
const BUSY_ABOUT = 4;
/** A part of the picture where they come in more frames than this moves by itself. */
const LIVELY_FRAMES = 3;
const LIVELY_SHARE = 0.08;
const COLUMNS = 24;
const ROWS = 14;
const MOST_FRAMES_LISTED = 2000;
const NOISE_STEP = 97;
/** A single pixel of the small view is most often fine detail that fell between two pixels. */
const LEAST_PIXELS = 2;
/** A thin or small thing of the scene falls now on one pixel of the small view, now between two, and shows half as much there. */
const SHOWS = 0.5;
/** What such a thing takes from one pixel it gives to the next: the mean about it stays. A speck changes it by this share of itself. */
const LEAST_NET = 0.3;
const RING = 3;
/** Pixels of the small view. */
const BESIDE = 34;
/** A speck itself misleads a tile or two. */
const MOVING_TILES = 3;

/** What is there one frame and neither before nor after: dirt, insects, birds. Works on the small view, three frames at a time. */
export const specks: Measure<Specks | null> = {
  begin: (clip, motion) => new RunningSpecks(clip, motion),
};

class RunningSpecks implements RunningMeasure<Specks | null> {
  private twoBefore: Level | null = null;
  /** Motion from two frames before to the frame before, pixels of the small view. */
  private stepBefore: { dx: number; dy: number; turn: number } | null = null;
  private frame = -1;
  /** Frames that were set against their neighbours. */
  private readonly frames: number[] = [];
  /** Share of the picture away from its edges. */
  private lookedAt = 1;
  private readonly found: { frame: number; specks: (Speck & { cell: number })[] }[] = [];
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
    const follows = (this.motion.steps().at(-1)?.otherwise ?? 1) <= MOST_OTHERWISE;
    if (follows && this.twoBefore && before && step && this.stepBefore) {
      this.frames.push(this.frame - 1);
      this.look(this.twoBefore, before, full, this.stepBefore, step, this.motion);
    }
    this.twoBefore = before;
    this.stepBefore = step;
  }

  private look(
    previous: Level,
    middle: Level,
    next: Level,
    toMiddle: { dx: number; dy: number; turn: number },
    toNext: { dx: number; dy: number; turn: number },
    { scale, leftOut, outliersNow }: MotionAnalysis,
  ): void {
    const { width, height } = middle;
    this.lookedAt = Math.max(0.1, (1 - (2 * EDGE) / width) * (1 - (2 * EDGE) / height));
    const { black, span } = smallScale(this.clip);
    const gains = [gain(middle, previous, black), gain(middle, next, black)];
    const [ga, gb] = gains;
    const shiftOf = (step: typeof toMiddle, y: number): { dx: number; dy: number } => ({
      dx: Math.round(step.dx - step.turn * (y - height / 2)),
      dy: Math.round(step.dy),
    });
    const usual = usualDifference(middle, previous, shiftOf(toMiddle, height / 2), ga, black);
    if (usual === null) return;
    const threshold = Math.max(LEAST_CONTRAST * span, STANDS_OUT * MAD_TO_SIGMA * usual * 0.7);
    const places = {
      previous,
      middle,
      next,
      toMiddle: (y: number) => shiftOf(toMiddle, y),
      toNext: (y: number) => shiftOf(toNext, y),
    };
    const candidates = standingAlone(places, gains, black, threshold, leftOut);
    if (candidates.length === 0) return;
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
    const between = (side: Level, sign: number, step: typeof toMiddle, light: number) => (i: number) => {
      const [x, y] = [i % width, Math.floor(i / width)];
      const dx = step.dx - step.turn * (y - height / 2);
      const value = bilinearWithin(side.samples, width, height, x + sign * dx, y + sign * step.dy);
      return black + light * (value - black);
    };
    const exactly = [between(previous, -1, toMiddle, ga), between(next, 1, toNext, gb)];
    const sides = { before, after, exactly, unlike: threshold };
    this.gather(on, candidates, middle, sides, scale, span, outliersNow);
    for (const i of candidates) on[i] = 0;
  }

  /** Joins what was found to specks. */
  private gather(
    on: Uint8Array,
    candidates: readonly number[],
    { width, height, samples }: Level,
    { before, after, exactly, unlike }: Sides,
    scale: { x: number; y: number },
    span: number,
    outliers: readonly { x: number; y: number }[],
  ): void {
    const specks: (Speck & { cell: number })[] = [];
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
      if (n > LARGEST * width * height) {
        this.busy.push(this.frame - 1);
        return;
      }
      if (n < LEAST_PIXELS) continue;
      const stood = (side: Sides['before']): number => standsOut(side, plainest, width, contrast);
      if (Math.min(stood(before), stood(after)) > SHOWS * Math.abs(contrast)) continue;
      const net = exactly.map((side) => netOf(samples, side, plainest, width) / contrast);
      if (Math.min(...net) < LEAST_NET) continue;
      const [x, y] = [sx / n, sy / n];
      // Beside something that moves, its own parts come and go.
      const moving = outliers.filter((s) => Math.abs(s.x - x) < BESIDE && Math.abs(s.y - y) < BESIDE);
      if (moving.length >= MOVING_TILES) continue;
      // Where the scene is another one behind it than before it, something passes.
      const about = boxAbout(members, width, height, AROUND, EDGE);
      if (shareIn(about, width, (i) => Math.abs(before(i) - after(i)) > unlike) > MOST_PASSING) continue;
      const cell =
        Math.min(ROWS - 1, Math.floor((y / height) * ROWS)) * COLUMNS +
        Math.min(COLUMNS - 1, Math.floor((x / width) * COLUMNS));
      specks.push({
        x: round((x + 0.5) * scale.x),
        y: round((y + 0.5) * scale.y),
        areaPx: round(n * scale.x * scale.y),
        contrastPct: round((100 * contrast) / span),
        cell,
      });
    }
    if (specks.length === 0) return;
    for (const cell of new Set(specks.map((s) => s.cell))) this.lively[cell]++;
    if (specks.length > MOST_IN_FRAME) this.busy.push(this.frame - 1);
    else this.found.push({ frame: this.frame - 1, specks });
  }

  /** @returns `null` where no frame could be set against both of its neighbours */
  finish(): Specks | null {
    if (this.frames.length < 3) return null;
    const most = Math.max(LIVELY_FRAMES, LIVELY_SHARE * this.frames.length);
    const shots = this.motion.shots();
    const inside = (frame: number): boolean =>
      shots.some((s) => frame > s.startFrame && frame < s.endFrame) &&
      !this.busy.some((b) => Math.abs(b - frame) <= BUSY_ABOUT);
    const frames = this.found
      .filter((f) => inside(f.frame))
      .map(({ frame, specks }) => ({
        frame,
        specks: specks.filter((s) => this.lively[s.cell] <= most).map(({ cell: _, ...speck }) => speck),
      }))
      .filter((f) => f.specks.length > 0);
    const all = frames.flatMap((f) => f.specks);
    // What was not looked at has as many as the rest.
    const counted = this.frames.filter(inside).length;
    const areas = all.map((s) => s.areaPx);
    return {
      perFrame: round(all.length / Math.max(1, counted) / this.lookedAt),
      medianAreaPx: areas.length > 0 ? round(median(areas)) : 0,
      largestPct:
        areas.length > 0 ? round((100 * Math.max(...areas)) / (this.clip.width * this.clip.height)) : 0,
      frames: frames.slice(0, MOST_FRAMES_LISTED),
    };
  }
}

/** The same place of the scene a frame before and a frame after, codes, and by how much these must differ to be unlike. */
interface Sides {
  readonly before: (index: number) => number;
  readonly after: (index: number) => number;
  /** The same between its pixels. */
  readonly exactly: readonly ((index: number) => number)[];
  readonly unlike: number;
}

/** Mean difference from a neighbouring frame about a place, codes. */
const netOf = (samples: ArrayLike<number>, side: Sides['before'], index: number, width: number): number => {
  let sum = 0;
  for (let v = -1; v <= 1; v++)
    for (let u = -1; u <= 1; u++) {
      const i = index + v * width + u;
      sum += samples[i] - side(i);
    }
  return sum / 9;
};

/**
 * By how much a neighbouring frame shows something at a place that is dark, or light, as a speck there is: codes.
 * @param index of the place
 * @param contrast of the speck; its sign tells which
 */
const standsOut = (side: Sides['before'], index: number, width: number, contrast: number): number => {
  const sign = Math.sign(contrast);
  const ring: number[] = [];
  let most = -Infinity;
  for (let v = -RING; v <= RING; v++)
    for (let u = -RING; u <= RING; u++) {
      const far = Math.max(Math.abs(u), Math.abs(v));
      if (far > 1 && far < RING) continue;
      const value = sign * side(index + v * width + u);
      if (far === RING) ring.push(value);
      else most = Math.max(most, value);
    }
  return most - median(ring);
};

/** Three frames one after the other, and how the scene moves from row to row between them, whole pixels. */
interface Neighbours {
  readonly previous: Level;
  readonly middle: Level;
  readonly next: Level;
  readonly toMiddle: (y: number) => { dx: number; dy: number };
  readonly toNext: (y: number) => { dx: number; dy: number };
}

/**
 * Places of the middle frame that nothing in either neighbour looks like.
 * @param gains light of the middle frame over that of the one before and the one after
 * @param threshold codes that they stand out by
 * @returns indices in the frame
 */
const standingAlone = (
  { previous, middle, next, toMiddle, toNext }: Neighbours,
  [ga, gb]: readonly number[],
  black: number,
  threshold: number,
  leftOut: Uint8Array | null,
): number[] => {
  const { width, height } = middle;
  const candidates: number[] = [];
  const edge = EDGE;
  const kept = {
    previous: kernels.keep(previous.samples),
    middle: kernels.keep(middle.samples),
    next: kernels.keep(next.samples),
  };
  kernels.reserve(width, 1);
  const at = { ...kept, found: kernels.room(width) };
  for (let y = edge; y < height - edge; y++) {
    const a = toMiddle(y);
    const b = toNext(y);
    const [ya, yb] = [y - a.dy, y + b.dy];
    if (ya < edge || yb < edge || ya >= height - edge || yb >= height - edge) continue;
    const from = Math.max(edge, edge + a.dx, edge - b.dx);
    const to = Math.min(width - edge, width - edge + a.dx, width - edge - b.dx);
    const found = kernels.run.standsOut(
      at.middle + 4 * (y * width + from),
      at.previous + 4 * (ya * width + from - a.dx),
      at.next + 4 * (yb * width + from + b.dx),
      to - from,
      ga,
      gb,
      black,
      threshold,
      at.found,
    );
    for (let k = 0; k < found; k++) {
      const x = from + kernels.whole(at.found + 4 * k);
      if (leftOut?.[y * width + x]) continue;
      const v = middle.samples[y * width + x] - black;
      const bright = v > ga * (previous.samples[ya * width + x - a.dx] - black);
      if (!standsAlone(previous, x - a.dx, ya, v, ga, black, bright, threshold / 2)) continue;
      if (!standsAlone(next, x + b.dx, yb, v, gb, black, bright, threshold / 2)) continue;
      candidates.push(y * width + x);
    }
  }
  return candidates;
};

/** Fewer samples than these tell nothing of what is usual. */
const LEAST_SAMPLES = 30;
/** Rows and columns at the edge that have no counterpart in a picture that is shifted. */
const MARGIN = 8;

/** By how much two pictures usually differ once one is laid over the other, codes; `null` where too little overlaps. */
const usualDifference = (
  { width, height, samples }: Level,
  before: Level,
  shift: { dx: number; dy: number },
  gainOfBefore: number,
  black: number,
): number | null => {
  const differences: number[] = [];
  for (let i = width * MARGIN + MARGIN; i < width * (height - MARGIN) - MARGIN; i += NOISE_STEP) {
    const j = i - shift.dy * width - shift.dx;
    if (j >= 0 && j < before.samples.length)
      differences.push(Math.abs(samples[i] - black - gainOfBefore * (before.samples[j] - black)));
  }
  return differences.length < LEAST_SAMPLES ? null : median(differences);
};

/** Light of one picture over another's, by their means. */
const gain = (a: Level, b: Level, black: number): number => {
  let [p, q] = [1, 1];
  for (let i = 0; i < a.samples.length; i += 61) {
    p += a.samples[i] - black;
    q += b.samples[i] - black;
  }
  return Math.max(0.25, Math.min(4, p / q));
};

/** Whether nothing about a place of a neighbouring frame looks like the pixel. */
const standsAlone = (
  { width, samples }: Level,
  x: number,
  y: number,
  value: number,
  gainOfOther: number,
  black: number,
  bright: boolean,
  margin: number,
): boolean => {
  for (let v = y - ABOUT; v <= y + ABOUT; v++)
    for (let i = v * width + x - ABOUT, end = i + 2 * ABOUT; i <= end; i++) {
      const other = gainOfOther * (samples[i] - black);
      if (bright ? other > value - margin : other < value + margin) return false;
    }
  return true;
};

/** Decimal places of its readings. */
const DIGITS = 2;
const round = (v: number): number => rounded(v, DIGITS);
