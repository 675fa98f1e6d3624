import { isTooSmall, tooSmall } from '../../picture/size.js';
import { ENOUGH, SEVERAL } from '../../maths/enough.js';
import { notMeasurable, type ClipFacts, type Reading } from '#terms';
import { softness as described, type SoftnessValues } from './descriptor.js';
import { quantile } from '../../maths/robust.js';
import type { MotionAnalysis } from '../../motion/motion-analysis.js';
import { blackBarsOf, BLACK } from '../../motion/black-bars.js';
import { burstOf, isOneOfFew, type Frame } from '../../picture/frame.js';
import { lumaScale } from '../../picture/signal.js';
import type { Measure, MeasureOptions, RunningMeasure } from '../measure.js';
import { chanceWithinGoal } from '../uncertainty.js';
import { detailKept, type DetailKept } from './carried-detail.js';
import { EdgeFinder } from './edges.js';
import { EnlargementFinder } from './enlargement.js';
import { detailOf, relativeDetail, softRuns, type Detail } from './soft-frames.js';
import { rounded } from '../../maths/round.js';

export type SoftnessReading = Reading<SoftnessValues, { detailPct: (number | null)[] }>;

/** Parts of the picture that are judged on their own: the sharpest of them tell. */
const COLUMNS = 10;
const ROWS = 6;
/**
 * A few sharp edges show a sharp picture; a few blunt ones show nothing, for a scene may have no other (clouds, water). Blunt:
 * more than twice as wide as those of a picture that uses all of its size.
 */
const BLUNT = 2;
/** An edge whose width is known worse than this (share, and pixels) says nothing. */
const MOST_ERROR = 0.2;
const MOST_ERROR_PX = 0.06;
/** Within a part, the edge in the middle: the sharpest of all are thin lines, the softest are shadows. */
const WITHIN_PART = 0.5;
/** The parts in focus. */
const SHARPEST_PARTS = 0.2;
/**
 * What an edge of a scene is besides a step bends its fit, and those of the whole picture alike: standard error by that, share
 * of the width. What photographs that were blurred by a known amount are read off by.
 */
const NO_STEP = 0.08;
/** A pixel averages its own area: variance of a box one pixel wide. */
const PIXEL_VARIANCE = 1 / 12;
/** Blur, pixel included, of a picture that uses all of its size: half contrast at a third of a cycle a pixel. */
const FULL_SIGMA_PX = 0.57;
/** Of the edges whose sides are flat this share shows less of a line beside it. */
const USUAL_OVERSHOOT = 0.5;
/** Where no interpolation tells, edges say how large a picture could have been at most: standard error, share of that. */
const UNTOLD_SCALE = 0.25;
const MOST_KEPT = 24_000;
/** The edge of a black bar is sharp whatever the lens does: nothing this close to it counts, pixels. */
const BESIDE_BARS = 24;
const REGIONS_SHOWN = 24;

/**
 * Softness: the blur of the sharpest part of the picture, from the width of its edges in linear light; and frames that
 * are much softer than their neighbours.
 *
 * Method: docs/measures/softness.md. Clip pixels.
 */
export const softness: Measure<SoftnessReading> = {
  begin: (clip, motion, options) => new RunningSoftness(clip, motion, options),
};

interface Edge {
  readonly part: number;
  readonly sigmaPx: number;
}

class RunningSoftness implements RunningMeasure<SoftnessReading> {
  private readonly finder: EdgeFinder;
  private readonly enlargement = new EnlargementFinder();
  private readonly overshoots: number[] = [];
  private readonly edges: Edge[] = [];
  private readonly details: Detail[] = [];
  /** Of what the camera carried into each frame. */
  private readonly kept: (DetailKept | null)[] = [];
  private last = -Infinity;
  private looked = 0;

  constructor(
    private readonly clip: ClipFacts,
    private readonly motion: MotionAnalysis,
    private readonly options: MeasureOptions,
  ) {
    this.finder = new EdgeFinder(clip);
  }

  take(frame: Frame): void {
    if (frame.view === 'small') {
      const { smooth, full, before, carriedNow } = this.motion;
      this.details.push(detailOf(smooth));
      this.kept.push(before && detailKept(before, full, carriedNow));
      return;
    }
    // One frame of each burst: its neighbour shows the same edges.
    if (frame.index === this.last + 1 || this.edges.length > MOST_KEPT) return;
    this.last = frame.index;
    const { plan } = this.options;
    if (!isOneOfFew(plan, burstOf(plan, frame.index) ?? 0, ENOUGH)) return;
    const [plane] = frame.planes;
    if (Math.min(plane.width, plane.height) < 64) return;
    const { rowStep, mask, overrides } = this.options;
    const within = overrides.interest && {
      ...overrides.interest,
      y: overrides.interest.y / rowStep,
      height: overrides.interest.height / rowStep,
    };
    const { black, span } = lumaScale(this.clip);
    const bars = blackBarsOf(plane, black + BLACK * span);
    const inBars = (x: number, y: number): boolean =>
      (bars.top > 0 && y < bars.top + BESIDE_BARS) ||
      (bars.bottom > 0 && y >= plane.height - bars.bottom - BESIDE_BARS) ||
      (bars.left > 0 && x < bars.left + BESIDE_BARS) ||
      (bars.right > 0 && x >= plane.width - bars.right - BESIDE_BARS);
    const leaveOut = (x: number, y: number): boolean =>
      inBars(x, y) || (!mask.empty && mask.covers(frame.index, x, y * rowStep));
    this.looked += 1;
    this.enlargement.take(plane);
    const { edges, overshoots } = this.finder.find(plane, leaveOut, within);
    this.overshoots.push(...overshoots);
    for (const edge of edges) {
      if (edge.errorPx > MOST_ERROR * edge.sigmaPx + MOST_ERROR_PX) continue;
      const column = Math.min(COLUMNS - 1, Math.floor((edge.x / plane.width) * COLUMNS));
      const row = Math.min(ROWS - 1, Math.floor((edge.y / plane.height) * ROWS));
      this.edges.push({ part: row * COLUMNS + column, sigmaPx: edge.sigmaPx });
    }
  }

  finish(): SoftnessReading {
    const { clip, edges } = this;
    if (isTooSmall(clip)) return notMeasurable(tooSmall(clip, 'to judge its edges'));
    if (edges.length < ENOUGH)
      return notMeasurable('There are too few clear edges in the picture: its sharpness cannot be told.');
    const parts = Array.from({ length: COLUMNS * ROWS }, (_, part) =>
      edges.filter((e) => e.part === part).map((e) => e.sigmaPx),
    );
    const widths = parts.map((p) => (p.length < SEVERAL ? NaN : quantile(p, WITHIN_PART)));
    const known = widths.filter((w) => !Number.isNaN(w));
    const telling = known.length >= SEVERAL ? known : edges.map((e) => e.sigmaPx);
    const total = quantile(telling, SHARPEST_PARTS);
    // Frames show the same edges again: how many there are is what one of them shows.
    const inAFrame = edges.length / this.looked;
    if (inAFrame < ENOUGH && total > BLUNT * FULL_SIGMA_PX)
      return notMeasurable(
        `Few plain edges can be read (${inAFrame.toFixed(1)} a frame), none of them sharp, and the scene may have no other: the blur is at most ${withoutPixel(total).toFixed(1)} px.`,
      );
    const [sharpest, softest] = aboutQuantile(telling, SHARPEST_PARTS);
    const error = Math.hypot((softest - sharpest) / 2, NO_STEP * total);
    const [sharper, softer] = [Math.max(0, total - error), total + error];
    const sigma = withoutPixel(total);
    const relative = relativeDetail(this.details, this.motion.shots(), this.kept);
    const softFrames = softRuns(relative, this.motion.shots(), this.motion.steps(), clip.width);
    // An interpolation leaves its own trace; where there is none, the picture may be enlarged, or the lens drew no more.
    const room = Math.min(1, FULL_SIGMA_PX / total);
    const enlarged = this.enlargement.scale(room);
    const scale = enlarged ?? room;
    const flat = this.overshoots.length >= ENOUGH;
    const lines = aboutQuantile(this.overshoots, USUAL_OVERSHOOT);
    const soft = softFrames.reduce((n, r) => n + r.endFrame - r.startFrame + 1, 0);
    const scatter = {
      blurSigmaPx: rounded((withoutPixel(softer) - withoutPixel(sharper)) / 2, 4),
      mtf50: rounded((halfContrast(sharper) - halfContrast(softer)) / 2, 4),
      ...(enlarged === null && { effectiveScale: rounded(UNTOLD_SCALE * room, 4) }),
      ...(flat && { overshootPct: rounded((100 * (lines[1] - lines[0])) / 2, 2) }),
    };
    return {
      state: 'measured',
      reason: null,
      confidence: rounded(chanceWithinGoal(described.figures.blurSigmaPx, sigma, scatter.blurSigmaPx), 3),
      values: {
        blurSigmaPx: rounded(sigma, 4),
        mtf50: rounded(halfContrast(total), 4),
        effectiveWidth: Math.max(1, Math.round(clip.width * scale)),
        effectiveScale: rounded(scale, 4),
        scaleFrom: enlarged === null ? 'edges' : 'interpolation',
        overshootPct: flat ? rounded(100 * quantile(this.overshoots, USUAL_OVERSHOOT), 2) : null,
        softFrames,
        softFramesPct: rounded((100 * soft) / Math.max(1, this.details.length), 2),
      },
      scatter,
      series: { detailPct: [...relative].map((r) => rounded(100 * Math.sqrt(r), 1)) },
      regions: this.sharpest(widths),
    };
  }

  /** The sharpest parts of the picture, for the eye. */
  private sharpest(widths: readonly number[]): Extract<SoftnessReading, { state: 'measured' }>['regions'] {
    const [w, h] = [this.clip.width / COLUMNS, this.clip.height / ROWS];
    return widths
      .map((width, part) => ({ width, part }))
      .filter((p) => !Number.isNaN(p.width))
      .sort((a, b) => a.width - b.width)
      .slice(0, REGIONS_SHOWN)
      .map(({ width, part }) => ({
        x: rounded((part % COLUMNS) * w, 1),
        y: rounded(Math.floor(part / COLUMNS) * h, 1),
        width: rounded(w, 1),
        height: rounded(h, 1),
        startFrame: 0,
        endFrame: this.clip.frames - 1,
        strength: rounded(width, 3),
      }));
  }
}

/** Of a blur, pixel included, that without it. */
const withoutPixel = (sigmaPx: number): number => Math.sqrt(Math.max(0, sigmaPx * sigmaPx - PIXEL_VARIANCE));

/** The values one standard error below and above a quantile: the ranks that a binomial count of as many leaves open. */
const aboutQuantile = (values: readonly number[], q: number): readonly [number, number] => {
  const open = Math.sqrt((q * (1 - q)) / Math.max(1, values.length));
  return [quantile(values, Math.max(0, q - open)), quantile(values, Math.min(1, q + open))];
};

/** Frequency, cycles per pixel, at which a Gaussian of this sigma keeps half of the contrast; no pixels hold more than 0.5. */
const halfContrast = (sigmaPx: number): number =>
  Math.min(0.5, Math.sqrt(Math.LN2 / 2) / (Math.PI * sigmaPx));
