import { isTooSmall, tooSmall } from '../../../picture/size.js';
import { SEVERAL } from '../../../maths/enough.js';
import type { ClipFacts } from '#terms';
import type { MotionAnalysis } from '../../../motion/motion-analysis.js';
import type { Frame, Plane } from '../../../picture/frame.js';
import { lumaScale, planeScale } from '../../../picture/signal.js';
import type { Measure, MeasureOptions, RunningMeasure } from '../../measure.js';
import { judgeSuspects } from './faults.js';
import {
  contrastAt,
  newTally,
  tallyImpulses,
  thresholdFor,
  leastContrastOf,
  type PlaneTally,
} from './impulses.js';
import { coverOf, nothingCovered, observeInPlanes } from './in-planes.js';
import { observeRings, RING_PLACES } from './isolation.js';
import { mostAlike } from './pointed.js';
import { SAME_PLACE_PX, type Carried } from './stays-put.js';
import type { Cover, Suspect } from './suspect.js';
import { Unevenness } from './unevenness.js';
import type { PixelFault, UncertainPlace } from './values.js';
import { rounded } from '../../../maths/round.js';

/** Faults of the sensor, or the reason why they could not be told. */
export type FaultyPixels =
  | {
      readonly confidence: number;
      readonly perMegapixel: number;
      readonly pixels: PixelFault[];
      readonly uncertain: UncertainPlace[];
    }
  | { readonly reason: string };

/** A pixel becomes a suspect once it stood out several times, and in this share of the frames so far. */
const SUSPECT_SHARE = 0.35;
const MOST_SUSPECTS = 40_000;
/** A frame darker than this share of the brightest so far belongs to a fade. */
const FADED = 0.75;
/** Where no more than this share of the frames show them in the same place, the scene's dots do not stand out like a fault. */
const MOST_STILL = 0.5;

/**
 * Hot, dead and stuck pixels: single places of the sensor that stand out from their surroundings in every picture
 * whatever the scene does.
 */
export const faultyPixels: Measure<FaultyPixels> = {
  begin: (clip, motion, options) => new RunningFaultyPixels(clip, motion, options),
};

class RunningFaultyPixels implements RunningMeasure<FaultyPixels> {
  private readonly tallies: PlaneTally[] = [];
  private readonly suspects: Map<number, Suspect>[] = [];
  /** What one sample of each plane covers of all. */
  private covers: readonly Cover[] | null = null;
  private readonly unevenness: Unevenness[] = [];
  private looked = 0;
  private readonly frames: number[] = [];
  private brightest = 0;
  private last = -Infinity;
  private readonly everyFrame: boolean;

  constructor(
    private readonly clip: ClipFacts,
    private readonly motion: MotionAnalysis,
    private readonly options: MeasureOptions,
  ) {
    // A short clip is seen whole; of a long one neighbouring frames tell nothing new.
    this.everyFrame = clip.frames < 60;
  }

  /** Sum over the frames of how faint a fault could be and still show, 1 where nothing hides it. */
  private faintest = 0;

  take(frame: Frame): void {
    if (!this.everyFrame && frame.index === this.last + 1) return;
    this.last = frame.index;
    const light = this.lightOf(frame.planes[0]);
    this.brightest = Math.max(this.brightest, light);
    // While a scene fades, its fine detail stays where it is and its ground changes: just like a fault's.
    if (light < FADED * this.brightest) return;
    this.looked++;
    this.frames.push(frame.index);
    const covers = (this.covers ??= frame.planes.map((plane) => coverOf(plane, frame.planes)));
    frame.planes.forEach((plane, p) => this.look(plane, p, covers[p]));
    this.suspects.forEach((suspects, p) =>
      observeInPlanes(suspects.values(), frame.planes[p], frame.planes, (q) => this.spanOf(q)),
    );
  }

  /** Mean luma above black, of a few thousand samples. */
  private lightOf({ samples }: Plane): number {
    const { black } = lumaScale(this.clip);
    const step = Math.max(1, Math.floor(samples.length / 4001));
    let [sum, count] = [0, 0];
    for (let i = 0; i < samples.length; i += step, count++) sum += samples[i] - black;
    return Math.max(0, sum / Math.max(1, count));
  }

  private spanOf(p: number): number {
    return planeScale(this.clip, p).span;
  }

  private look(plane: Plane, p: number, cover: Cover): void {
    const span = this.spanOf(p);
    const tally = (this.tallies[p] ??= newTally(plane.width, plane.height));
    const suspects = (this.suspects[p] ??= new Map<number, Suspect>());
    (this.unevenness[p] ??= new Unevenness(plane, span)).take(plane.samples);
    const threshold = thresholdFor(plane, span);
    if (p === 0) this.faintest += leastContrastOf(span) / threshold;
    for (const suspect of suspects.values()) observe(suspect, plane, span, threshold);
    tallyImpulses(plane, threshold, tally, (i, contrast) => {
      if (suspects.size >= MOST_SUSPECTS || suspects.has(i)) return;
      const seen = contrast > 0 ? tally.above[i] : tally.below[i];
      if (seen < SEVERAL || seen < SUSPECT_SHARE * this.looked) return;
      const before = { looks: this.looked - 1, stoodOut: seen - 1 };
      const suspect = newSuspect(i, plane.width, contrast > 0, before, cover);
      suspects.set(i, suspect);
      observe(suspect, plane, span, threshold);
    });
  }

  /** How the camera carried the scene over the sensor, as far as it was followed. */
  private carried(): Carried {
    let [x, y] = [0, 0];
    const path = this.motion.steps().map((step) => {
      x += step?.dx ?? 0;
      y += step?.dy ?? 0;
      return { x, y };
    });
    const pointed = this.frames.filter((f) => f < path.length).map((f) => path[f]);
    return { moved: mostAlike(pointed, SAME_PLACE_PX) <= MOST_STILL, pointed };
  }

  finish(): FaultyPixels {
    const { width, height, frames } = this.clip;
    if (this.looked < SEVERAL)
      return {
        reason: `The clip has ${frames} ${frames === 1 ? 'frame' : 'frames'}: at least ${SEVERAL} are needed to tell the sensor from the scene.`,
      };
    if (isTooSmall(this.clip))
      return { reason: tooSmall(this.clip, 'to tell a pixel from its surroundings') };
    const judged = judgeSuspects(
      this.suspects,
      this.tallies,
      this.looked,
      this.clip,
      this.carried(),
      this.unevenness.map((u) => u.sigma()),
    );
    const { mask, rowStep } = this.options;
    const inClip = <P extends { readonly x: number; readonly y: number }>(places: readonly P[]): P[] =>
      places.map((p) => ({ ...p, y: p.y * rowStep })).filter((p) => !mask.covers(0, p.x, p.y));
    const pixels = inClip(judged.pixels);
    const uncertain = inClip(judged.uncertain);
    return {
      confidence: confidence(
        this.looked,
        judged.moved,
        pixels,
        uncertain.length,
        this.faintest / this.looked,
      ),
      perMegapixel: round((pixels.length * 1e6) / (width * height)),
      pixels,
      uncertain: uncertain.slice(0, MOST_UNCERTAIN),
    };
  }
}

/** More places that cannot be told say no more. */
const MOST_UNCERTAIN = 200;

/**
 * Where the scene stands still a printed dot looks the same: surety grows with frames and with movement, and falls with
 * the share of places that cannot be told from the scene, and where noise or detail hides faint faults.
 * @param faintest the least contrast that shows at all over what shows here, 0–1
 */
const confidence = (
  looked: number,
  moved: number,
  pixels: readonly PixelFault[],
  uncertain: number,
  faintest: number,
): number => {
  const seen = pixels.length > 0 ? pixels.reduce((s, p) => s + p.seenPct / 100, 0) / pixels.length : 1;
  const told = Math.sqrt((1 + pixels.length) / (1 + pixels.length + uncertain));
  return round(
    (1 - Math.exp(-looked / 6)) * (0.45 + 0.55 * moved) * (0.5 + 0.5 * seen) * told * (0.5 + 0.5 * faintest),
  );
};

const newSuspect = (
  index: number,
  width: number,
  bright: boolean,
  before: Suspect['before'],
  cover: Cover,
): Suspect => ({
  x: index % width,
  y: Math.floor(index / width),
  index,
  bright,
  before,
  frames: 0,
  stoodOut: 0,
  contrast: 0,
  contrastSquares: 0,
  value: 0,
  valueSquares: 0,
  around: 0,
  aroundSquares: 0,
  sides: new Float64Array(4),
  along: new Float64Array(4),
  rings: new Float32Array(RING_PLACES.length),
  cover,
  covered: nothingCovered(cover),
});

/**
 * Adds one frame to what is known of a suspect; all in fractions of range. Pixels at distance two that lie opposite one
 * another are looked at in four directions.
 */
const observe = (suspect: Suspect, plane: Plane, span: number, threshold: number): void => {
  const { samples: s, width: w } = plane;
  const i = suspect.index;
  const contrast = contrastAt(s, i, w);
  const value = s[i] / span;
  const around = (s[i] - contrast) / span;
  suspect.frames++;
  if (suspect.bright ? contrast >= threshold : contrast <= -threshold) suspect.stoodOut++;
  suspect.contrast += contrast / span;
  suspect.contrastSquares += (contrast / span) ** 2;
  suspect.value += value;
  suspect.valueSquares += value * value;
  suspect.around += around;
  suspect.aroundSquares += around * around;
  const { along } = suspect;
  along[0] += value - (s[i + 2] + s[i - 2]) / 2 / span;
  along[1] += value - (s[i + 2 * w] + s[i - 2 * w]) / 2 / span;
  along[2] += value - (s[i + 2 * w + 2] + s[i - 2 * w - 2]) / 2 / span;
  along[3] += value - (s[i - 2 * w + 2] + s[i + 2 * w - 2]) / 2 / span;
  observeRings(suspect, plane, span);
  const { sides } = suspect;
  sides[0] += s[i - 1] / span;
  sides[1] += s[i + 1] / span;
  sides[2] += s[i - w] / span;
  sides[3] += s[i + w] / span;
};

/** Decimal places of its readings. */
const DIGITS = 3;
const round = (v: number): number => rounded(v, DIGITS);
