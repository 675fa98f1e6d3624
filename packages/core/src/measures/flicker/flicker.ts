import { isTooSmall, tooSmall } from '../../picture/size.js';
import { isLongEnough, LEAST_FRAMES } from '../../motion/shots.js';
import { notMeasurable, rationalToNumber, type ClipFacts, type Reading } from '#terms';
import { flicker as described, type FlickerValues } from './descriptor.js';
import { mean } from '../../maths/robust.js';
import type { MotionAnalysis } from '../../motion/motion-analysis.js';
import type { Measure, RunningMeasure } from '../measure.js';
import { chanceWithinGoal } from '../uncertainty.js';
import { coursesOf, withoutRamp } from './course.js';
import { exposureChangesIn, framesHolding, withoutChange, type ExposureChange } from './exposure.js';
import { flashesIn } from './flashes.js';
import { lampsFor } from './lamps.js';
import { BANDS, LightFollower, type BandSteps } from './light.js';
import { acrossBands, analyseShot, type ShotFlicker } from './pattern.js';
import { depthOf, isSteady, STEADY_PCT, worstOf } from './steady.js';
import { fadedIn, withoutTrend } from './trend.js';
import { rounded } from '../../maths/round.js';

export type FlickerReading = Reading<FlickerValues, { lightPct: (number | null)[] }>;

const SPECTRUM_POINTS = 400;
const CURVE_DIGITS = 1e4;

/**
 * Flicker: how far the light swings about its slow course, how often, and whether over the whole frame or in bars.
 * Follows light between registered frames, band by band; cuts part the clip into shots, fades and flashes are left out.
 *
 * Method: docs/measures/flicker.md.
 */
export const flicker: Measure<FlickerReading> = {
  begin: (clip, motion) => new RunningFlicker(clip, motion),
};

class RunningFlicker implements RunningMeasure<FlickerReading> {
  private readonly follower: LightFollower;
  private readonly steps: BandSteps[] = [];

  constructor(
    private readonly clip: ClipFacts,
    private readonly motion: MotionAnalysis,
  ) {
    this.follower = new LightFollower(clip);
  }

  take(): void {
    const { picture, detail, registration, full, outliersNow } = this.motion;
    const strangers = outliersNow.map(({ x, y }) => ({ x: x / full.width, y: y / full.height }));
    this.steps.push(this.follower.take(picture, detail, registration, this.leftOut(), strangers));
  }

  /** The mask at the size of the picture. */
  private leftOut(): Uint8Array | null {
    const { leftOut, full, picture } = this.motion;
    if (!leftOut || picture.width === full.width) return leftOut;
    const k = full.width / picture.width;
    const out = new Uint8Array(picture.width * picture.height);
    for (let y = 0, i = 0; y < picture.height; y++)
      for (let x = 0; x < picture.width; x++, i++)
        out[i] = leftOut[Math.floor(y * k) * full.width + Math.floor(x * k)];
    return out;
  }

  finish(): FlickerReading {
    if (isTooSmall(this.clip)) return notMeasurable(tooSmall(this.clip, 'to follow its light row by row'));
    if (this.steps.length < LEAST_FRAMES)
      return notMeasurable(
        `The clip has ${this.steps.length} frames: at least ${LEAST_FRAMES} are needed to see a rhythm.`,
      );
    const frameRate = rationalToNumber(this.clip.frameRate);
    const light = new Array<number | null>(this.steps.length).fill(null);
    const shots: AnalysedShot[] = [];
    const changes: ExposureChange[] = [];
    const long = this.motion.shots().filter(isLongEnough);
    for (const { startFrame, endFrame } of long) {
      const { light: curves, error } = summed(this.steps.slice(startFrame, endFrame + 1));
      const whole = acrossBands(curves);
      let changed = exposureChangesIn(whole, frameRate);
      const about = (level: readonly Float64Array[], holding: number) => {
        const faded = fadedIn(acrossBands(level), frameRate);
        const [bands, errors] = [level, error].map((of) => of.map((c) => withoutTrend(c, frameRate, faded)));
        const shot = analyseShot(bands, errors, frameRate, holding);
        return shot && { ...shot, startFrame, bands };
      };
      const without = <C>(taken: (curve: Float64Array, change: C) => Float64Array, all: readonly C[]) =>
        curves.map((curve) => all.reduce(taken, curve));
      const frames = endFrame - startFrame + 1;
      let shot = about(without(withoutChange, changed), framesHolding(frames, changed));
      if (!shot && changed.length > 0) {
        // Where hardly a frame holds, the change itself is all that there is to look at.
        const courses = coursesOf(whole, changed);
        shot = about(without(withoutRamp, courses), frames);
        if (shot) changed = courses;
      }
      changes.push(...changed.map((c) => ({ ...c, frame: c.frame + startFrame })));
      if (!shot) continue;
      shots.push(shot);
      (hasBars(shot) ? shot.middle : shot.light).forEach(
        (v, i) =>
          (light[startFrame + i] = Number.isNaN(v)
            ? null
            : Math.round(100 * v * CURVE_DIGITS) / CURVE_DIGITS),
      );
    }
    if (shots.length === 0) return notMeasurable(this.whyNot(long.length > 0));
    return reading(worstOf(shots), changes, light, this.steps, frameRate, this.clip.durationSec);
  }

  /** @param long whether any shot is long enough */
  private whyNot(long: boolean): string {
    if (this.steps.filter((s) => s !== null).length < this.steps.length / 2)
      return 'The picture is too dark, too bright or too blank, or everything in it moves: its light cannot be followed.';
    return long
      ? `The light is faded or changed in nearly all of the clip: at least ${LEAST_FRAMES} frames of steady exposure are needed to see a rhythm.`
      : `No shot of the clip is long enough: at least ${LEAST_FRAMES} frames between cuts are needed.`;
  }
}

/** A shot with the light of its row bands, about its slow course. */
interface AnalysedShot extends ShotFlicker {
  readonly startFrame: number;
  readonly bands: readonly Float64Array[];
}

interface BandCurves {
  readonly light: Float64Array[];
  readonly error: Float64Array[];
}

/** Adds the steps up for each band; an unknown step leaves a gap that the curve goes on behind. */
const summed = (steps: readonly BandSteps[]): BandCurves => {
  const flashes = flashesIn(steps.map((step) => (step ? mean(step.light) : 0)));
  const curvesOf = (of: 'light' | 'error'): Float64Array[] =>
    Array.from({ length: BANDS }, (_, band) => {
      let sum = 0;
      return Float64Array.from(steps, (step, t) => {
        if (t === 0) return 0;
        if (!step || flashes.has(t)) return NaN;
        sum += step[of][band];
        return sum;
      });
    });
  return { light: curvesOf('light'), error: curvesOf('error') };
};

const hasBars = (shot: ShotFlicker): boolean => !isSteady(shot) && shot.regular && shot.bars !== 0;

/** More frames of rows than this are not shown. */
const ROWS_SHOWN = 200;

const rowsOf = ({ startFrame, bands }: AnalysedShot): NonNullable<FlickerValues['rows']> => ({
  startFrame,
  lightPct: bands.map((band) =>
    Array.from(band.subarray(0, ROWS_SHOWN), (v) => (Number.isNaN(v) ? null : Math.round(1e4 * v) / 100)),
  ),
});

const reading = (
  shot: AnalysedShot,
  changes: readonly ExposureChange[],
  light: (number | null)[],
  steps: readonly BandSteps[],
  frameRate: number,
  clipSec: number,
): FlickerReading => {
  const depth = depthOf(shot);
  const steady = isSteady(shot);
  const regular = !steady && shot.regular;
  const bars = hasBars(shot);
  const exposureChanges = changes.map(asChange);
  const followed = steps.filter((s, t) => t > 0 && s !== null).length / Math.max(1, steps.length - 1);
  return {
    state: 'measured',
    reason: null,
    confidence: round(
      followed *
        (1 - Math.exp(-shot.frames / 30)) *
        // Light that is steady as far as its error lets one tell is told no surer than that.
        (100 * depth < STEADY_PCT
          ? 1
          : chanceWithinGoal(described.figures.depthPct, 100 * depth, 100 * shot.depthError)),
    ),
    values: {
      depthPct: round(100 * depth),
      rmsPct: round(100 * shot.rms),
      frequencyHz: regular ? round(shot.frequencyHz) : null,
      pattern: steady ? 'none' : !regular ? 'irregular' : bars ? 'rolling-bars' : 'whole-frame',
      barsPerFrame: bars ? round(Math.abs(shot.bars)) : null,
      barDriftPerSec: bars ? round(shot.frequencyHz / shot.bars) : null,
      lampHz: regular ? lampsFor(shot.frequencyHz, frameRate, clipSec) : [],
      exposureChanges,
      exposureChangePct: Math.max(0, ...exposureChanges.map((c) => Math.abs(c.changePct))),
      spectrum: thinned(shot),
      ...(bars && { rows: rowsOf(shot) }),
    },
    scatter: { depthPct: round(100 * shot.depthError), rmsPct: round((100 * shot.depthError) / Math.SQRT2) },
    series: { lightPct: light },
    regions: [],
  };
};

const asChange = ({ frame, frames, size }: ExposureChange): FlickerValues['exposureChanges'][number] => ({
  frame,
  frames,
  changePct: rounded(100 * (Math.exp(size) - 1), 2),
});

/** The spectrum at a few hundred points; each keeps the highest amplitude it stands for. */
const thinned = ({ spectrum: { frequencyHz, amplitude } }: ShotFlicker): FlickerValues['spectrum'] => {
  const step = Math.max(1, Math.floor(frequencyHz.length / SPECTRUM_POINTS));
  const points: FlickerValues['spectrum'] = [];
  for (let k = 0; k < frequencyHz.length; k += step) {
    let at = k;
    for (let j = k; j < Math.min(k + step, frequencyHz.length); j++) if (amplitude[j] > amplitude[at]) at = j;
    points.push({ frequencyHz: round(frequencyHz[at]), amplitudePct: round(100 * amplitude[at]) });
  }
  return points;
};

/** Decimal places of its readings. */
const DIGITS = 4;
const round = (v: number): number => rounded(v, DIGITS);
