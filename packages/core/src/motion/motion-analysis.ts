import { ENOUGH, SEVERAL } from '../maths/enough.js';
import { rationalToNumber, type ClipFacts, type Shot } from '#terms';
import { kernels } from '../kernels/kernels.js';
import { mean } from '../maths/robust.js';
import type { Frame } from '../picture/frame.js';
import type { Mask } from '../picture/mask.js';
import { asLevel, halve, smoothed, type Level } from '../picture/pyramid.js';
import { Rooms } from '../picture/rooms.js';
import { smallScale } from '../picture/signal.js';
import { blackBarsOf, BLACK, type BlackBars } from './black-bars.js';
import { cameraMotion, LEAST_KNOWN, type CameraMotion } from './camera.js';
import { prepare, register, type Prepared } from './register.js';
import { RepeatFinder } from './repeats.js';
import { ShotFinder } from './shots.js';
import { AT_ONE, type Registration, type Similarity, STILL } from './similarity.js';
import { OtherWays, type OtherCourse, type OutlierMap } from './other-ways.js';
import { followTiles, type TileMotions } from './tiles.js';

/** What the camera did from the frame before to this one, in clip pixels. */
export interface CameraStep {
  readonly dx: number;
  readonly dy: number;
  /** Change of scale. */
  readonly zoom: number;
  /** Radians. */
  readonly turn: number;
  readonly following: number;
  /** Share of the textured picture that does not follow the camera. */
  readonly otherwise: number;
  /** Displacement of each row band without turn and zoom: x and y in turn, `NaN` where none is known. */
  readonly bands: Float32Array;
  /** How much is known of each of them, 0–1. */
  readonly known: Float32Array;
  /** Standard error of `dx` and `dy`. */
  readonly error: { readonly x: number; readonly y: number };
}

/**
 * What all measures stand on, worked out once from the small view. Pictures are only good while their frame is in hand, and
 * `full` for two frames more.
 */
export interface MotionAnalysis {
  /** Luma of the small frame in hand, codes shifted up to 16 bits. */
  readonly full: Level;
  /** `full` with the finest detail weighed down. */
  readonly smooth: Level;
  /** `full` at half its size where it is large: enough to follow light. */
  readonly picture: Level;
  /** `picture` free of its local mean. */
  readonly detail: Level;
  /** Motion from the frame before to the small frame in hand, in pixels of `picture`; `null` where it is unknown. */
  readonly registration: Registration | null;
  /** The small frame before the one in hand. */
  readonly before: Level | null;
  /** Clip pixels for one pixel of `full`. */
  readonly scale: { readonly x: number; readonly y: number };
  /** What is left out of the frame in hand, over `full`: 1 where a mask or a bar lies, or `null`. */
  readonly leftOut: Uint8Array | null;
  /** Tiles that did not follow the camera into the frame in hand, pixels of `full`. */
  readonly outliersNow: readonly { readonly x: number; readonly y: number }[];
  /** Tiles of the frame before that the camera carried into the frame in hand. */
  readonly carriedNow: readonly Carried[];
  /** Step into the frame in hand of what is followed; `null` where it is unknown. */
  readonly stepNow: CameraStep | null;
  /**
   * Step of the camera into each frame; `null` where it is unknown. Once every small frame was taken: then it is known whether
   * what was followed was the scene, or something that moved in most of the picture.
   */
  steps(): readonly (CameraStep | null)[];
  /** The shots; complete once every small frame was taken. */
  shots(): readonly Shot[];
  /** Frames that show the frame before again. */
  repeats(): ReadonlySet<number>;
  /** Where things went another way than the camera: share of the frames, over a grid of the picture. */
  outliers(): OutlierMap;
  bars(): BlackBars;
}

/** A place of the frame before, and how far from it the frame in hand shows it: pixels of `full`. */
export interface Carried {
  readonly x: number;
  readonly y: number;
  readonly dx: number;
  readonly dy: number;
}

/** The step of a camera that stood still while something else was followed. */
const stoodStill = (step: CameraStep, share: number): CameraStep => ({
  ...step,
  ...STILL,
  following: share,
  otherwise: 1 - share,
  bands: step.bands.map(() => 0),
});

const NOTHING: Level = { width: 0, height: 0, samples: new Float32Array(0) };
/** Light is followed at no more than about this size. */
const LARGE = 340;
/** Levels of the coarse search: the finest is left to the tiles. */
const LEAST_SEARCHED = 100;
/** Sharp tiles of a row band that make it count in full. */
const WELL_KNOWN = 6;
/** Share of the points that must follow a motion that was only guessed. */
const GOES_ON = 0.7;
/**
 * Share of the tiles that are found again in a picture that was followed: of another picture hardly one is. Where most of what
 * it shows is plain, a burnt-out sky, most of the rest is enough.
 */
const FOUND_AGAIN = 0.3;
const MOST_FOUND = 0.6;
/** Something moves where in several of the frames so near the camera moved, … */
const MOVES_WITHIN = ENOUGH;
/** … or this share of the picture went its own way. */
const MOVED_SHARE = 0.01;
/** Frames that measures look at together. */
const FRAMES_IN_HAND = 3;

/** Follows the small view: camera motion from frame to frame, cuts, repeated frames and black bars. */
export class RunningMotionAnalysis implements MotionAnalysis {
  full = NOTHING;
  picture = NOTHING;
  detail = NOTHING;
  registration: Registration | null = null;
  before: Level | null = null;
  leftOut: Uint8Array | null = null;
  scale = { x: 1, y: 1 };
  outliersNow: { x: number; y: number }[] = [];
  carriedNow: Carried[] = [];
  smooth = NOTHING;
  private prepared: Prepared | null = null;
  private readonly rooms = new Rooms(FRAMES_IN_HAND);
  private readonly halved = new Rooms(1);
  private readonly registered = { levels: new Rooms(2), onTheWay: new Rooms(1) };
  /** The coarse motion into the frame before. */
  private guess: Similarity | null = null;
  private readonly finder = new ShotFinder();
  private readonly repeatFinder = new RepeatFinder();
  private readonly camera: (CameraStep | null)[] = [];
  /** Share of the tiles that were found again in each frame. */
  private readonly found: number[] = [];
  private least: BlackBars | null = null;
  private readonly otherWays: OtherWays;
  private settled: readonly (CameraStep | null)[] | null = null;

  /** @param clip the size that the small view was made from, and what its codes and frames stand for */
  constructor(
    private readonly clip: Pick<ClipFacts, 'width' | 'height' | 'bitDepth' | 'range' | 'frameRate'>,
    private readonly mask: Mask,
  ) {
    this.otherWays = new OtherWays(rationalToNumber(clip.frameRate));
  }

  take(frame: Frame): void {
    this.before = this.full === NOTHING ? null : this.full;
    this.full = asLevel(frame.planes[0], this.rooms);
    kernels.keep(this.full.samples);
    const { width, height } = this.full;
    this.scale = { x: this.clip.width / width, y: this.clip.height / height };
    this.picture = Math.max(width, height) > LARGE ? halve(this.full, this.halved) : this.full;
    this.finder.take(this.picture);
    this.repeatFinder.take(this.full);
    const levels = prepare(this.picture, this.registered);
    this.detail = levels[0];
    const { black, span } = smallScale(this.clip);
    const bars = blackBarsOf(this.full, black + BLACK * span);
    this.least = this.least ? smallerBars(this.least, bars) : bars;
    this.leftOut = this.maskFor(frame.index, bars);
    const before = this.smooth;
    // A picture that was made smaller was weighed with its neighbours on the way.
    this.smooth = this.clip.width > width ? this.full : smoothed(this.full);
    this.follow(before, levels);
    this.prepared = levels;
  }

  /** Coarse search, then tiles at the size of the small view. */
  private follow(before: Level, levels: Prepared): void {
    const { smooth, prepared } = this;
    this.registration = null;
    const outliersBefore = this.outliersNow.map(({ x, y }) => ({
      x: x - smooth.width / 2,
      y: y - smooth.height / 2,
    }));
    this.outliersNow = [];
    this.carriedNow = [];
    if (!prepared) {
      this.camera.push(null);
      this.otherWays.lost();
      this.found.push(0);
      return;
    }
    const skip = levels.length > 1 && Math.max(levels[1].width, levels[1].height) >= LEAST_SEARCHED ? 1 : 0;
    const [from, to] = [prepared.slice(skip), levels.slice(skip)];
    const toFull = (2 ** skip * smooth.width) / this.picture.width;
    const followed = (coarse: Registration | null): Followed => {
      const { motion } = coarse ?? { motion: STILL };
      const first = { ...motion, dx: motion.dx * toFull, dy: motion.dy * toFull };
      const tiles = followTiles(before, smooth, first, this.leftOut, smallScale(this.clip).black);
      const camera = cameraMotion(tiles, first, smooth.width, smooth.height, outliersBefore);
      return { coarse, tiles, camera, found: mean(tiles.found) || 0 };
    };
    // A camera goes on as it went: only where that does not hold is the whole neighbourhood searched.
    const onward = this.guess && register(from, to, this.guess);
    const goesOn = onward !== null && onward.following >= GOES_ON;
    let best = followed(goesOn ? onward : register(from, to));
    if (goesOn && best.found < FOUND_AGAIN) {
      const anew = followed(register(from, to));
      if (anew.found > best.found) best = anew;
    }
    // Where few are found, something that jumps aside may have been followed.
    if (best.found < MOST_FOUND) {
      const still = followed(null);
      if (backingOf(still) > backingOf(best)) best = still;
    }
    const { coarse, tiles, camera } = best;
    this.guess = coarse?.motion ?? null;
    this.found.push(best.found);
    const isKnown = best.found >= FOUND_AGAIN || tiles.foundShare >= MOST_FOUND;
    if (!camera || !isKnown || Number.isNaN(camera.motion.dx) || Number.isNaN(camera.motion.dy)) {
      this.registration = isKnown ? coarse && scaled(coarse, 2 ** skip) : null;
      this.camera.push(null);
      this.otherWays.lost();
      return;
    }
    const k = this.picture.width / smooth.width;
    this.registration = scaled({ motion: camera.motion, following: camera.following }, k);
    this.camera.push(this.stepOf(camera));
    this.otherWays.take(tiles, camera, smooth);
    this.countStrangers(tiles, camera.outliers, smooth.width, smooth.height);
  }

  private stepOf(of: Omit<CameraMotion, 'backing' | 'outliers'>): CameraStep {
    const { motion, bands, known, following, otherwise, error } = of;
    const { x, y } = this.scale;
    return {
      dx: motion.dx * x,
      dy: motion.dy * y,
      zoom: motion.zoom,
      turn: motion.turn,
      following,
      otherwise,
      bands: Float32Array.from(bands, (v, i) => v * (i % 2 === 0 ? x : y)),
      known: Float32Array.from(known, (k) => Math.min(1, k / WELL_KNOWN)),
      error: { x: error.x * x, y: error.y * y },
    };
  }

  /** The step of the camera in the stead of what was followed. */
  private insteadOf(step: CameraStep, { share, steps }: OtherCourse, at: number): CameraStep | null {
    if (steps === 'stands') return stoodStill(step, share);
    const instead = steps[at];
    return instead && this.stepOf({ ...instead, following: share, otherwise: 1 - share });
  }

  private countStrangers(tiles: TileMotions, outliers: Uint8Array, width: number, height: number): void {
    for (let i = 0; i < tiles.count; i++) {
      if (!tiles.found[i]) continue;
      const [x, y] = [tiles.x[i] + width / 2, tiles.y[i] + height / 2];
      if (outliers[i]) this.outliersNow.push({ x, y });
      else if (tiles.xx[i] + tiles.yy[i] > LEAST_KNOWN)
        this.carriedNow.push({ x, y, dx: tiles.dx[i], dy: tiles.dy[i] });
    }
  }

  private maskFor(frame: number, bars: BlackBars): Uint8Array | null {
    const { width, height } = this.full;
    const drawn = this.mask.empty ? null : this.mask.over(frame, width, height, this.scale);
    if (!bars.top && !bars.bottom && !bars.left && !bars.right) return drawn;
    const out = drawn ?? new Uint8Array(width * height);
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x++)
        if (
          y < bars.top + 2 ||
          y >= height - bars.bottom - 2 ||
          x < bars.left + 2 ||
          x >= width - bars.right - 2
        )
          out[y * width + x] = 1;
    return out;
  }

  get stepNow(): CameraStep | null {
    return this.camera[this.camera.length - 1] ?? null;
  }

  steps(): readonly (CameraStep | null)[] {
    if (this.settled?.length === this.camera.length) return this.settled;
    const steps = [...this.camera];
    for (const course of this.otherWays.courses())
      for (let f = course.startFrame; f <= course.endFrame; f++) {
        const step = steps[f];
        steps[f] = step && this.insteadOf(step, course, f - course.startFrame);
      }
    this.settled = steps;
    return steps;
  }

  shots(): readonly Shot[] {
    // What is found again where it was, or was carried, is no other picture: a camera that is bumped does not cut.
    return this.finder.finish((f) => this.camera[f] !== null);
  }

  repeats(): ReadonlySet<number> {
    return new Set([...this.repeatFinder.finish()].filter((f) => this.movesAbout(f)));
  }

  /** Whether the camera or something else moves in the frames about one: a held title repeats nothing. */
  private movesAbout(frame: number): boolean {
    const about = this.camera.slice(Math.max(1, frame - MOVES_WITHIN), frame + MOVES_WITHIN + 1);
    const moving = about.filter((s) => s && (Math.hypot(s.dx, s.dy) > AT_ONE || s.otherwise > MOVED_SHARE));
    return moving.length >= SEVERAL;
  }

  outliers(): OutlierMap {
    return this.otherWays.outliers();
  }

  bars(): BlackBars {
    return this.least ?? { top: 0, bottom: 0, left: 0, right: 0 };
  }
}

/** One way on to the next frame: where a guess puts the picture, and which tiles are there. */
interface Followed {
  readonly coarse: Registration | null;
  readonly tiles: TileMotions;
  readonly camera: CameraMotion | null;
  /** Share of the tiles that were found. */
  readonly found: number;
}

const backingOf = ({ camera }: Followed): number => camera?.backing ?? 0;

const scaled = ({ motion, following }: Registration, k: number): Registration => ({
  motion: { ...motion, dx: motion.dx * k, dy: motion.dy * k },
  following,
});

const smallerBars = (a: BlackBars, b: BlackBars): BlackBars => ({
  top: Math.min(a.top, b.top),
  bottom: Math.min(a.bottom, b.bottom),
  left: Math.min(a.left, b.left),
  right: Math.min(a.right, b.right),
});
