import { isTooSmall } from '../../../picture/size.js';
import { SEVERAL } from '../../../maths/enough.js';
import type { ClipFacts } from '#terms';
import { sigmasBeyondAll } from '../../../maths/chance.js';
import { madSigma, mean, median } from '../../../maths/robust.js';
import type { MotionAnalysis } from '../../../motion/motion-analysis.js';
import { STILL, type Similarity } from '../../../motion/similarity.js';
import { smoothed, withoutLocalMean, type Level } from '../../../picture/pyramid.js';
import { lightOfSmallCodes, smallScale } from '../../../picture/signal.js';
import type { Measure, RunningMeasure } from '../../measure.js';
import type { Place } from '../place.js';
import type { LensSpot } from './values.js';
import { rounded } from '../../../maths/round.js';
import type { Blob } from './blob.js';
import { added, Looks } from './looks.js';
import { blobsBeyond, brightestLeft, LEAST_RADIUS, WEAKER } from './standing.js';
import { errorOver, usual, type Look } from './usual.js';

/** Surroundings that a spot is set against, pixels of the picture. */
const ABOUT = 12;
/** How far apart two frames lie that are compared, pixels of the picture: further than a spot is wide. */
const APART = [6, 8, 10, 13, 17, 22, 28];
/** A frame is kept when the camera went this far since the last one, pixels of the picture. */
const KEEP_EVERY = 1.25;
/** A camera that goes no further than a spot is wide is looked at more often, over shorter distances. */
const KEEP_EVERY_NEAR = KEEP_EVERY / 4;
const APART_NEAR = [3.5, 4.5, 6];
/** A picture has so many places of a spot's size, and a spot stands as far out of the errors of its looks as none of them does by chance. */
const PLACES = 1000;
const BEYOND_LOOKS = sigmasBeyondAll(PLACES);
/** Dust takes light; a drop that gives some gives more than this: what is fainter is left of lights of the scene. */
const LEAST_LIFT = 0.1;
/** A spot weaker than this (log of light) is not noticed. */
const LEAST_DEPTH = 0.05;
const ROUNDS = 2;
/** What is not known yet of a spot is spread by as much as the camera went in each round: until it lies this far about, pixels of the picture. */
const SPREAD = ABOUT;
/**
 * What would be gone if the frames lay this much better over one another, pixels of the picture, is no spot: where the scene
 * lies along the way of the camera, an edge of it stays in its place.
 */
const MISLAID = 0.5;
/** It is round, to this factor, and at most this large, pixels of the picture. */
const ROUND = 2.4;
/** Places of the ring about a spot that it is set against. */
const PLACES_BEYOND = 48;
/** Near the edge few frames overlap. */
const EDGE = ABOUT;
/**
 * Each spot leaves a weaker second trace of the other sign where it lay in the frame compared with; what is of its own sign and lies
 * within its rim, radii, is a part of it. Both are weaker (`WEAKER`) than it is.
 */
const TRACE_REACH = Math.max(...APART);
const PART_RADII = 2;
/** Where the scene has depth, its near and far parts cannot both be laid over one another: differences this strong, over this share of the picture. */
const STRONG = 0.21;
const MOST_STRONG = 0.02;
const MOST_SPOTS = 40;
const COLUMNS = 16;
const ROWS = 9;
/** Signal below or above this share of the range says nothing of what is laid over it. */
const DARK = 0.05;
const BRIGHT = 0.97;

/**
 * Dirt on lens or sensor: soft places that stay where they are while the scene passes behind them. Two frames between
 * which the camera moved are laid over one another as the scene lies; the logarithm of their light then differs by the
 * spot alone, for the scene cancels out. How far apart the two lie is varied, so that the second trace that each spot
 * leaves is spread.
 */
export const lensSpots: Measure<LensSpot[] | null> = {
  begin: (clip, motion) => new RunningLensSpots(clip, motion),
};

class RunningLensSpots implements RunningMeasure<LensSpot[] | null> {
  private readonly logs: Float32Array;
  private readonly far = new Looks(KEEP_EVERY, APART);
  private readonly near = new Looks(KEEP_EVERY_NEAR, APART_NEAR);
  /** Those that tell. */
  private seen: readonly Look[] = [];
  private shape = { width: 0, height: 0 };
  private frame = -1;
  private at: Similarity = STILL;
  private readonly best = Array.from({ length: COLUMNS * ROWS }, () => ({ score: -Infinity, frame: 0 }));

  constructor(
    private readonly clip: Pick<ClipFacts, 'bitDepth' | 'range' | 'transfer' | 'width'>,
    private readonly motion: MotionAnalysis,
  ) {
    const { black, span } = smallScale(clip);
    const light = lightOfSmallCodes(clip);
    this.logs = new Float32Array(light.length).fill(NaN);
    for (let code = Math.ceil(black + DARK * span); code <= black + BRIGHT * span; code++)
      this.logs[code] = Math.log(light[code]);
  }

  /** Nothing but a few hundred samples in most frames; about 25 operations per pixel where the camera has gone far enough. */
  take(): void {
    const { picture, detail, registration, full } = this.motion;
    this.frame++;
    this.plainest(picture, detail);
    if (isTooSmall(picture)) return;
    this.shape = { width: picture.width, height: picture.height };
    if (!registration || full.width === 0) {
      // A cut, or nothing to follow: what was kept no longer lies under this picture.
      for (const looks of [this.far, this.near]) looks.cut();
      this.at = STILL;
      return;
    }
    this.at = added(this.at, registration.motion, 1);
    // Short distances are looked at only as long as there are no others.
    const told = this.far.tells() ? [this.far] : [this.far, this.near];
    const wanting = told.filter((looks) => looks.wants(this.at));
    if (wanting.length === 0) return;
    // Smoothed, for between its pixels a picture is read softer than on them, and edges along the way of the camera stay.
    const now = smoothed(picture).samples;
    for (let i = 0; i < now.length; i++) now[i] = this.logs[now[i] | 0];
    for (const looks of wanting) looks.take(this.at, now, picture);
  }

  /** Remembers for each part of the picture the frame in which it was brightest and plainest: a spot shows most there. */
  private plainest({ width, height, samples }: Level, detail: Level): void {
    for (let cell = 0; cell < this.best.length; cell++) {
      const left = Math.floor(((cell % COLUMNS) * width) / COLUMNS);
      const top = Math.floor((Math.floor(cell / COLUMNS) * height) / ROWS);
      let [level, busy] = [0, 1];
      for (let v = 1; v <= 3; v++)
        for (let u = 1; u <= 3; u++) {
          const i =
            Math.min(height - 1, top + Math.floor((v * height) / ROWS / 4)) * width +
            Math.min(width - 1, left + Math.floor((u * width) / COLUMNS / 4));
          level += samples[i];
          busy += Math.abs(detail.samples[i]);
        }
      const score = level / (busy + 2000);
      if (score > this.best[cell].score) this.best[cell] = { score, frame: this.frame };
    }
  }

  /** @returns `null` where the camera did not move enough to tell, or the scene has too much depth */
  finish(): LensSpot[] | null {
    // The farther apart the better: short distances serve where there are no others.
    const isFar = this.far.tells();
    const { seen, slopes } = isFar ? this.far : this.near;
    this.seen = seen;
    if (!slopes || this.seen.length < SEVERAL) return null;
    const few = this.usual(ROUNDS);
    if (!this.liesInOnePlane(few)) return null;
    const rounds = isFar ? ROUNDS : this.roundsNear();
    const level = { ...this.shape, samples: isFar ? few : this.usual(rounds) };
    const standingOut = withoutLocalMean(level, ABOUT);
    const least = Math.max(LEAST_DEPTH, BEYOND_LOOKS * madSigma(standingOut.samples));
    const blobs = blobsBeyond(standingOut, least);
    // No dirt is bright under little movement: what is, says how strong that is which the scene leaves.
    const brightest = isFar ? 0 : brightestLeft(blobs, this.traceAfter(rounds));
    const spots: LensSpot[] = [];
    for (const { blob, peak } of blobs) {
      if (spots.length >= MOST_SPOTS) break;
      if (!isFar && peak > 0) continue;
      if (peak > 0 && peak < LEAST_LIFT) continue;
      if (!isRoundAndWhole(blob, level)) continue;
      const stands = Math.abs(blob.level);
      if (stands < MISLAID * slopes.over(blob.members)) continue;
      if (stands < BEYOND_LOOKS * errorOver(blob.members, seen, level, rounds)) continue;
      if (!isFar && brightest > -peak) {
        if (spots.length === 0) return null;
        break;
      }
      spots.push(this.spotOf(blob, level));
    }
    return withoutTraces(spots, this.clip.width / level.width);
  }

  private spotOf(blob: Blob, level: Level): LensSpot {
    const { width, height } = level;
    const k = this.clip.width / width;
    const cell =
      Math.min(ROWS - 1, Math.floor((blob.y / height) * ROWS)) * COLUMNS +
      Math.min(COLUMNS - 1, Math.floor((blob.x / width) * COLUMNS));
    return {
      x: round((blob.x + 0.5) * k),
      y: round((blob.y + 0.5) * k),
      radiusPx: round(Math.max(1, blob.radius * k)),
      contrastPct: round(100 * (Math.exp(level.samples[blob.members[0]] - groundOf(level, blob)) - 1)),
      worstFrame: this.best[cell].frame,
    };
  }

  /** Rounds of {@link usual} where the camera went no further than a spot is wide. */
  private roundsNear(): number {
    const square = mean(this.seen.map(({ dx, dy }) => dx * dx + dy * dy));
    return Math.max(ROUNDS, Math.ceil(SPREAD ** 2 / square));
  }

  /** How far off a spot's second trace lies after so many rounds, where the camera went one way. */
  private traceAfter(rounds: number): Place {
    return { x: rounds * mean(this.seen.map((l) => l.dx)), y: rounds * mean(this.seen.map((l) => l.dy)) };
  }

  private liesInOnePlane(level: Float32Array): boolean {
    let [judged, strong] = [0, 0];
    for (const v of level) {
      if (v !== 0) judged++;
      if (Math.abs(v) > STRONG) strong++;
    }
    return strong < MOST_STRONG * judged;
  }

  private usual(rounds: number): Float32Array {
    return usual(this.seen, this.shape, rounds, SEVERAL);
  }
}

/** Whether a blob is as large and as round as a spot, and not cut off by the edge. */
const isRoundAndWhole = (blob: Blob, { width, height }: Pick<Level, 'width' | 'height'>): boolean =>
  blob.radius >= LEAST_RADIUS &&
  blob.longest <= ROUND * blob.shortest &&
  blob.x >= EDGE &&
  blob.y >= EDGE &&
  blob.x <= width - EDGE &&
  blob.y <= height - EDGE;

/** Spots but for the traces that they leave and their parts. @param k clip pixels to one of the picture */
const withoutTraces = (spots: readonly LensSpot[], k: number): LensSpot[] => {
  // In the logarithm of light: there a spot and the trace that it leaves are alike.
  const depth = ({ contrastPct }: LensSpot): number => Math.abs(Math.log(1 + contrastPct / 100));
  return spots.filter(
    (s) =>
      !spots.some((o) => {
        const isOther = o.contrastPct * s.contrastPct < 0;
        // Dirt mostly takes light: of a spot and a trace as strong as it, the dark one is the spot.
        const weaker = isOther && s.contrastPct > 0 ? 1 / WEAKER : WEAKER;
        const reach = isOther ? TRACE_REACH * k : PART_RADII * o.radiusPx;
        return depth(s) < weaker * depth(o) && Math.hypot(s.x - o.x, s.y - o.y) < reach;
      }),
  );
};

/** What lies about a spot, beyond its rim: the median of a ring. */
const groundOf = (
  { width, height, samples }: Pick<Level, 'width' | 'height' | 'samples'>,
  { x, y }: Place,
): number => {
  const ring: number[] = [];
  for (let k = 0; k < PLACES_BEYOND; k++) {
    const angle = (2 * Math.PI * k) / PLACES_BEYOND;
    const [u, v] = [Math.round(x + ABOUT * Math.cos(angle)), Math.round(y + ABOUT * Math.sin(angle))];
    if (u >= 0 && v >= 0 && u < width && v < height) ring.push(samples[v * width + u]);
  }
  return median(ring);
};

/** Decimal places of its readings. */
const DIGITS = 2;
const round = (v: number): number => rounded(v, DIGITS);
