import { LEAST_FRAMES } from '../../motion/shots.js';
import { notMeasurable, rationalToNumber, type ClipFacts, type Overrides, type Reading } from '#terms';
import { shake as described, type ShakeValues } from './descriptor.js';
import { mean } from '../../maths/robust.js';
import { spectrumOf } from '../../maths/spectrum.js';
import type { CameraStep, MotionAnalysis } from '../../motion/motion-analysis.js';
import { INTENDED_MOTION_HZ } from '../../motion/intended.js';
import type { Measure, RunningMeasure } from '../measure.js';
import { chanceWithinGoal } from '../uncertainty.js';
import { cropFor, isKnown, rootMeanSquare, splitPath, type ShotPath } from './path.js';
import { jitterPower } from './put-back.js';
import { rounded } from '../../maths/round.js';

/** Courses in clip pixels. */
const PLACES = ['jitterX', 'jitterY', 'intendedX', 'intendedY'] as const;

export type ShakeReading = Reading<
  ShakeValues,
  Record<(typeof PLACES)[number] | 'jitterTurn' | 'jitterZoom', (number | null)[]>
>;

/** Jitter below this, clip pixels, has no frequency worth a name. */
const STEADY_PX = 0.08;
const SPECTRUM_POINTS = 300;
/** A cell of the picture goes its own way when it did so in this share of the frames. */
const OWN_WAY = 0.35;
/** Numbers that the course of a move takes at its ends, and what jitter has at the slow end beside white noise. */
const SLOW_ORDER = 3;
const SLOW_SHARE = 0.2;

/**
 * Shake: the camera path from frame to frame, split into the move that was meant (slower than about 1 Hz) and the
 * jitter about it.
 *
 * Method: docs/measures/shake.md. Clip pixels.
 */
export const shake: Measure<ShakeReading> = {
  begin: (clip, motion, { overrides }) => new RunningShake(clip, motion, overrides),
};

class RunningShake implements RunningMeasure<ShakeReading> {
  constructor(
    private readonly clip: ClipFacts,
    private readonly motion: MotionAnalysis,
    private readonly overrides: Overrides,
  ) {}

  take(): void {
    // The ground follows the camera for all measures.
  }

  finish(): ShakeReading {
    const { clip, motion } = this;
    const steps = motion.steps();
    const repeats = motion.repeats();
    const frameRate = rationalToNumber(clip.frameRate);
    const series = {
      jitterX: nothing(steps.length),
      jitterY: nothing(steps.length),
      intendedX: nothing(steps.length),
      intendedY: nothing(steps.length),
      jitterTurn: nothing(steps.length),
      jitterZoom: nothing(steps.length),
    };
    const shots: { path: ShotPath; steps: readonly (CameraStep | null)[] }[] = [];
    let short = true;
    for (const { startFrame, endFrame } of motion.shots()) {
      const inside = steps.slice(startFrame, endFrame + 1);
      if (inside.length < LEAST_FRAMES) continue;
      short = false;
      if (inside.slice(1).filter((s) => s !== null).length < (inside.length - 1) / 2) continue;
      const repeated = inside.map((_, i) => i > 0 && repeats.has(startFrame + i));
      if (repeated.filter((r) => !r).length < LEAST_FRAMES) continue;
      const path = splitPath(inside, repeated, frameRate, clip.width, this.overrides.intent);
      shots.push({ path, steps: inside });
      const write = (key: keyof typeof series, scale: number, digits: number): void =>
        path[key].forEach(
          (v, i) => (series[key][startFrame + i] = isKnown(v) ? rounded(scale * v, digits) : null),
        );
      for (const key of PLACES) write(key, 1, 3);
      write('jitterTurn', 180 / Math.PI, 4);
      write('jitterZoom', 100, 4);
    }
    if (shots.length === 0)
      return notMeasurable(
        short
          ? `The clip has no shot of at least ${LEAST_FRAMES} frames: a movement cannot be told from a move.`
          : steps.length > 1 && repeats.size >= steps.length - 1
            ? 'All frames are alike: the picture is held, so no camera moves in it.'
            : 'There is too little detail in the picture, or it changes too much, to follow the camera.',
      );
    const sizes = shots.map(({ path }) => sizeOf(path, frameRate));
    const rms = Math.max(...sizes);
    const worst = shots[sizes.indexOf(rms)];
    const values = valuesOf(worst.path, rms, worst.steps, clip, frameRate);
    const scatter = scatterOf(worst.path, rms, worst.steps, clip, frameRate);
    const followed = worst.steps.slice(1).filter((s) => s !== null).length / (worst.steps.length - 1);
    const chance = chanceWithinGoal(described.figures.jitterRmsPx, values.jitterRmsPx, scatter.jitterRmsPx);
    return {
      state: 'measured',
      reason: null,
      confidence: rounded(followed * chance, 3),
      values,
      scatter,
      series,
      regions: this.ownWays(),
    };
  }

  /** Parts of the picture that did not follow the camera. */
  private ownWays(): Extract<ShakeReading, { state: 'measured' }>['regions'] {
    const { columns, rows, share } = this.motion.outliers();
    const [w, h] = [this.clip.width / columns, this.clip.height / rows];
    return [...share].flatMap((strength, cell) =>
      strength < OWN_WAY
        ? []
        : [
            {
              x: rounded((cell % columns) * w, 1),
              y: rounded(Math.floor(cell / columns) * h, 1),
              width: rounded(w, 1),
              height: rounded(h, 1),
              startFrame: 0,
              endFrame: this.clip.frames - 1,
              strength: rounded(strength, 3),
            },
          ],
    );
  }
}

const nothing = (n: number): (number | null)[] => new Array<number | null>(n).fill(null);
/** Root mean square of the jitter in both directions, px. */
const sizeOf = ({ camera, jitterX, jitterY }: ShotPath, frameRate: number): number =>
  camera === 'locked-off'
    ? Math.hypot(rootMeanSquare(jitterX), rootMeanSquare(jitterY))
    : Math.sqrt(jitterPower(jitterX, frameRate) + jitterPower(jitterY, frameRate));

/** Root mean square of the turning, radians. */
const turnOf = ({ camera, jitterTurn }: ShotPath, frameRate: number): number =>
  camera === 'locked-off' ? rootMeanSquare(jitterTurn) : Math.sqrt(jitterPower(jitterTurn, frameRate));

/**
 * Standard errors: those of the steps add up along the path as a random walk does, of which what is slower than a move is
 * taken out again. What follows a move follows some of the jitter, as much as white noise has in as many numbers and less by as
 * much as jitter is quicker; it is put back, as far as one knows what it was.
 */
const scatterOf = (
  path: ShotPath,
  rms: number,
  steps: readonly (CameraStep | null)[],
  { width }: ClipFacts,
  frameRate: number,
): Record<'jitterRmsPx' | 'jitterPctWidth', number> => {
  const known = steps.slice(1).filter((s) => s !== null);
  const ofSteps = mean(known.map(({ error: { x, y } }) => x * x + y * y));
  const ofPath = (ofSteps * frameRate) / (2 * Math.PI ** 2 * INTENDED_MOTION_HZ);
  const frames = path.jitterX.length;
  const seconds = frames / frameRate;
  const taken = (SLOW_SHARE * (SLOW_ORDER + 2 * INTENDED_MOTION_HZ * seconds)) / (2 * frames);
  // Errors add to the movement: squares by what they are, the root of them by half of that over itself.
  const px = ofPath / (2 * Math.max(rms, Math.sqrt(ofPath), 1e-6)) + Math.sqrt(ofPath / frames) + taken * rms;
  return { jitterRmsPx: rounded(px, 4), jitterPctWidth: rounded((100 * px) / width, 4) };
};

const valuesOf = (
  path: ShotPath,
  rms: number,
  steps: readonly (CameraStep | null)[],
  { width, height }: ClipFacts,
  frameRate: number,
): ShakeValues => {
  let peak = 0;
  let crop = 0;
  path.jitterX.forEach((x, f) => {
    const [y, turn] = [path.jitterY[f], path.jitterTurn[f]];
    if (!isKnown(x)) return;
    peak = Math.max(peak, Math.hypot(x, y));
    crop = Math.max(crop, cropFor(x, y, turn, width, height));
  });
  const spectrum = spectrumOf([path.jitterX, path.jitterY].map(withoutGaps), frameRate);
  let strongest = 0;
  spectrum.amplitude.forEach((a, k) => {
    if (a > spectrum.amplitude[strongest]) strongest = k;
  });
  const others = steps.filter((s) => s !== null).map((s) => s.otherwise);
  return {
    jitterRmsPx: rounded(rms, 4),
    jitterPctWidth: rounded((100 * rms) / width, 4),
    peakPx: rounded(peak, 3),
    jitterRmsDeg: rounded((turnOf(path, frameRate) * 180) / Math.PI, 4),
    dominantHz: rms < STEADY_PX ? null : rounded(spectrum.frequencyHz[strongest], 3),
    cropPct: rounded(100 * crop, 2),
    movingSubjectPct: rounded(100 * (others.length > 0 ? mean(others) : 0), 2),
    camera: path.camera,
    spectrum: thinned(spectrum),
  };
};

const withoutGaps = (values: Float64Array): Float64Array => values.map((v) => (isKnown(v) ? v : 0));

const thinned = ({ frequencyHz, amplitude }: ReturnType<typeof spectrumOf>): ShakeValues['spectrum'] => {
  const step = Math.max(1, Math.ceil(frequencyHz.length / SPECTRUM_POINTS));
  const points: ShakeValues['spectrum'] = [];
  for (let k = 0; k < frequencyHz.length; k += step) {
    let at = k;
    for (let j = k; j < Math.min(k + step, frequencyHz.length); j++) if (amplitude[j] > amplitude[at]) at = j;
    points.push({ frequencyHz: rounded(frequencyHz[at], 3), amplitudePx: rounded(amplitude[at], 4) });
  }
  return points;
};
