import {
  DEFECTS,
  notMeasurable,
  rationalToNumber,
  soundReading,
  type ClipFacts,
  type Defect,
  type MeasuredClip,
  type MeasuredUnder,
  type Measurement,
  type Overrides,
  type Readings,
} from '#document';
import { loadMeasures, type LoadedMeasure } from './measures/loaded.js';
import type { MeasureOptions } from './measures/measure.js';
import { lostBefore } from './motion/gaps.js';
import { cadenceOf } from './motion/repeats.js';
import { RunningMotionAnalysis } from './motion/motion-analysis.js';
import { planFeed, type FeedPlan, type Frame } from './picture/frame.js';
import { FullSizeFacts } from './picture/full-size-facts.js';
import { Mask } from './picture/mask.js';
import { shiftedToClip } from './overrides/shift-to-clip.js';

/** Names how a measurement was made: raised whenever the same frames may read otherwise. */
export const ENGINE_VERSION = '0.20';

/** A clip that is being measured. The command, the server's workers and a browser's all drive this. */
export interface RunningMeasurement {
  /** What the feed has to deliver. Frames are counted from the in point. */
  readonly plan: FeedPlan;
  take(frame: Frame): void;
  /**
   * @param framesDecoded how many frames were really there, from the in point to the out point
   * @throws {ZodError} when a measure breaks the contract, for example by answering NaN
   */
  finish(framesDecoded: number): Measurement;
  /** Milliseconds spent so far by each measure, when a clock was given. */
  profile(): Record<string, number>;
}

/** How a clip is measured. */
export interface MeasurementOptions {
  readonly overrides?: Overrides;
  /** The measures that look; all of them where it is not said. The others answer that they did not. */
  readonly only?: readonly Defect[];
  /** Milliseconds; only for the profile, readings never depend on it. */
  readonly clock?: () => number;
}

/** Begins to measure a clip with every measure there is, or with some, on one feed. */
export const beginMeasurement = async (
  facts: ClipFacts,
  options: MeasurementOptions = {},
): Promise<RunningMeasurement> => beginWith(await loadMeasures(options.only), facts, options);

/** Begins to measure a clip with measures that are loaded. */
export const beginWith = (
  looking: readonly LoadedMeasure[],
  facts: ClipFacts,
  { overrides = {}, only, clock = () => 0 }: MeasurementOptions = {},
): RunningMeasurement => {
  const seen = between(facts, overrides);
  const plan = planFeed(
    seen,
    overrides.range,
    only === undefined || looking.some((m) => m.descriptor.needs.includes('burst')),
  );
  const mask = new Mask(fromInPoint(overrides));
  const motion = new RunningMotionAnalysis(seen, mask);
  const fullSize = new FullSizeFacts(seen);
  const options: MeasureOptions = { overrides, mask, rowStep: plan.field ? 2 : 1, plan };
  const running = looking.map(({ descriptor, measure }) => ({
    descriptor,
    at: measure.begin(seen, motion, options),
  }));
  const spent: Record<string, number> = { motion: 0 };
  const timed = <T>(name: string, work: () => T): T => {
    const from = clock();
    const result = work();
    spent[name] = (spent[name] ?? 0) + clock() - from;
    return result;
  };
  return {
    plan,
    take: (frame) => {
      timed('motion', () => (frame.view === 'small' ? motion : fullSize).take(frame));
      for (const { descriptor, at } of running)
        if (descriptor.needs.includes(frame.view)) timed(descriptor.defect, () => at.take(frame));
    },
    finish: (framesDecoded) => {
      const answers = new Map(
        running.map(({ descriptor: { defect }, at }) => [defect, timed(defect, () => at.finish())] as const),
      );
      const frames = overrides.range ? facts.frames : framesDecoded;
      return shiftedToClip(
        {
          schema: 'bevrin.measure/1',
          clip: measuredClip({ ...facts, frames }, motion, fullSize, plan),
          measuredUnder: asDocumented(overrides),
          shots: [...motion.shots()],
          readings: readingsOf(answers),
        },
        overrides.range?.startFrame ?? 0,
        frames,
      );
    },
    profile: () => spent,
  };
};

/** What the measures that looked answered, and of the others that they did not. */
const readingsOf = (answers: ReadonlyMap<Defect, unknown>): Readings =>
  Object.fromEntries(
    DEFECTS.map((defect) => [
      defect,
      answers.has(defect)
        ? soundReading(defect, answers.get(defect))
        : notMeasurable('it was not looked at this time'),
    ]),
  ) as unknown as Readings;

/** The facts of the file together with what was found out about its pictures. */
const measuredClip = (
  facts: ClipFacts,
  motion: RunningMotionAnalysis,
  fullSize: FullSizeFacts,
  plan: FeedPlan,
): MeasuredClip => {
  const { top, bottom, left, right } = motion.bars();
  const { x, y } = motion.scale;
  const repeats = motion.repeats();
  return {
    ...facts,
    durationSec: facts.frames / rationalToNumber(facts.frameRate),
    activePicture: {
      x: Math.round(left * x),
      y: Math.round(top * y),
      width: Math.max(1, facts.width - Math.round((left + right) * x)),
      height: Math.max(1, facts.height - Math.round((top + bottom) * y)),
    },
    duplicateFrames: repeats.size,
    lostBefore: lostBefore(motion.steps(), repeats, motion.shots(), facts.width),
    repeatEvery: cadenceOf(repeats),
    ...fullSize.finish(),
    measuredAs: plan.field ? 'firstField' : 'frames',
  };
};

/** The clip as it would be if it began at the in point and ended at the out point. */
const between = (facts: ClipFacts, { range }: Overrides): ClipFacts => {
  if (!range) return facts;
  const frames = Math.max(1, Math.min(facts.frames - 1, range.endFrame) - range.startFrame + 1);
  return { ...facts, frames, durationSec: frames / rationalToNumber(facts.frameRate) };
};

/** Overrides as the document names them: the text of a table stays out of it. */
const asDocumented = ({ viewing, ...overrides }: Overrides): MeasuredUnder => ({
  ...overrides,
  ...(viewing && { viewing: viewing.kind === 'cube' ? { kind: 'cube', name: viewing.name } : viewing }),
});

/** Masks with their frames counted from the in point. */
const fromInPoint = ({ masks = [], range }: Overrides): NonNullable<Overrides['masks']> =>
  masks.map(({ shape, frames }) =>
    frames
      ? {
          shape,
          frames: {
            startFrame: frames.startFrame - (range?.startFrame ?? 0),
            endFrame: frames.endFrame - (range?.startFrame ?? 0),
          },
        }
      : { shape },
  );
