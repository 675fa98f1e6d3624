import { isLongEnough, LEAST_FRAMES } from '../../motion/shots.js';
import { notMeasurable, rationalToNumber, type ClipFacts, type Reading } from '#terms';
import { rollingShutter as described, type RollingShutterValues } from './descriptor.js';
import type { MotionAnalysis } from '../../motion/motion-analysis.js';
import type { Measure, RunningMeasure } from '../measure.js';
import { chanceWithinGoal } from '../uncertainty.js';
import { findReadout, type Readout } from './readout.js';
import { rounded } from '../../maths/round.js';

export type RollingShutterReading = Reading<RollingShutterValues, { leanPx: (number | null)[] }>;

/** The best read-out must explain the rows this much better than a middling one. */
const PLAIN = 0.72;
/** Movement of the camera from frame to frame must change by this much, clip pixels a frame (RMS), to show a read-out. */
const LEAST_CHANGE = 0.12;

/**
 * Rolling shutter: the share of the frame interval that the sensor takes from its first row to its last, from how
 * row bands move against one another while the camera's speed changes.
 *
 * Method: docs/measures/rolling-shutter.md.
 */
export const rollingShutter: Measure<RollingShutterReading> = {
  begin: (clip, motion) => new RunningRollingShutter(clip, motion),
};

class RunningRollingShutter implements RunningMeasure<RollingShutterReading> {
  constructor(
    private readonly clip: ClipFacts,
    private readonly motion: MotionAnalysis,
  ) {}

  take(): void {
    // The ground follows the row bands for all measures.
  }

  finish(): RollingShutterReading {
    const { clip, motion } = this;
    const repeats = motion.repeats();
    const all = motion.steps().map((s, f) => (repeats.has(f) || repeats.has(f - 1) ? null : s));
    const shots = motion
      .shots()
      .filter(isLongEnough)
      .map(({ startFrame, endFrame }) => ({ startFrame, steps: all.slice(startFrame, endFrame + 1) }));
    if (shots.length === 0)
      return notMeasurable(`No shot has ${LEAST_FRAMES} frames: the camera's movement cannot be followed.`);
    const change = changeOf(shots.map((s) => s.steps));
    if (change === null)
      return notMeasurable('There is too little detail in the picture to follow it row by row.');
    if (change < LEAST_CHANGE)
      return notMeasurable(
        'The camera stands still or moves evenly: read-out shows only where its speed changes.',
      );
    const readout = findReadout(shots, clip.height);
    if (!readout)
      return notMeasurable(
        'Too few rows of the picture have detail that could be followed from frame to frame.',
      );
    if (readout.plainness > PLAIN)
      return notMeasurable(
        'No read-out time explains the rows better than another: the clip was steadied electronically, or too little of it moves with the camera.',
      );
    return this.reading(readout);
  }

  private reading(readout: Readout): RollingShutterReading {
    const { clip, motion } = this;
    const leans = new Array<number | null>(motion.steps().length).fill(null);
    for (const { frame, px } of readout.skew) leans[frame] = rounded(px, 3);
    const farthest = readout.skew.reduce((most, { px }) => Math.max(most, Math.abs(px)), 0);
    const { fraction, wobblePx } = readout;
    const values = {
      readoutFraction: fraction,
      readoutMs: (1000 * fraction) / rationalToNumber(clip.frameRate),
      skewDeg: (Math.atan(farthest / clip.height) * 180) / Math.PI,
      wobblePx,
      wobblePctWidth: (100 * wobblePx) / clip.width,
    };
    // All of them grow with the read-out.
    const share = readout.error / Math.max(fraction, readout.error);
    return {
      state: 'measured',
      reason: null,
      confidence: rounded(chanceWithinGoal(described.figures.readoutFraction, fraction, readout.error), 3),
      values: {
        ...each(values, (v) => v),
        candidates: readout.candidates.map((c) => ({
          readoutFraction: rounded(c.fraction, 3),
          residualPx: rounded(c.residualPx, 4),
        })),
      },
      scatter: { ...each(values, (v) => share * v), readoutFraction: rounded(readout.error, DIGITS) },
      series: { leanPx: leans },
      regions: [],
    };
  }
}

/** Decimal places of its figures. */
const DIGITS = 4;
const each = <K extends string>(
  values: Record<K, number>,
  of: (value: number) => number,
): Record<K, number> =>
  Object.fromEntries(
    Object.entries<number>(values).map(([name, v]) => [name, rounded(of(v), DIGITS)]),
  ) as Record<K, number>;

/** RMS change of the camera's step from frame to frame; `null` where too few steps are known. */
const changeOf = (shots: readonly (readonly ({ dx: number; dy: number } | null)[])[]): number | null => {
  let [sum, count] = [0, 0];
  for (const steps of shots)
    for (let f = 2; f < steps.length; f++) {
      const [a, b] = [steps[f - 1], steps[f]];
      if (!a || !b) continue;
      sum += (b.dx - a.dx) ** 2 + (b.dy - a.dy) ** 2;
      count++;
    }
  return count < LEAST_FRAMES ? null : Math.sqrt(sum / count);
};
