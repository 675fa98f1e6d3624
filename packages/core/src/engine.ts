import { rationalToNumber, Readings, type ClipFacts, type Measurement } from '@bevrin/contract';
import { MEASURES, unbuiltReadings } from './measures/all.js';
import { RunningGround } from './motion/ground.js';
import { planFeed, type FeedPlan, type Frame } from './picture/frame.js';

/** A clip that is being measured. The command, the server's workers and a browser's all drive this. */
export interface RunningMeasurement {
  /** What the feed has to deliver. */
  readonly plan: FeedPlan;
  take(frame: Frame): void;
  /**
   * @param framesDecoded how many frames the clip really had
   * @throws {ZodError} when a measure breaks the contract, for example by answering NaN
   */
  finish(framesDecoded: number): Measurement;
  /** Milliseconds spent so far by each measure, when a clock was given. */
  profile(): Record<string, number>;
}

/**
 * Begins to measure a clip with every measure there is, on one feed.
 * @param clock milliseconds; only for the profile, readings never depend on it
 */
export const beginMeasurement = (facts: ClipFacts, clock: () => number = () => 0): RunningMeasurement => {
  const plan = planFeed(facts);
  const ground = new RunningGround(facts);
  const running = MEASURES.map((measure) => ({ measure, at: measure.begin(facts, ground) }));
  const spent: Record<string, number> = { ground: 0 };
  const timed = <T>(name: string, work: () => T): T => {
    const from = clock();
    const result = work();
    spent[name] = (spent[name] ?? 0) + clock() - from;
    return result;
  };
  return {
    plan,
    take: (frame) => {
      if (frame.view === 'small') timed('ground', () => ground.take(frame));
      for (const { measure, at } of running)
        if (measure.needs.includes(frame.view)) timed(measure.defect, () => at.take(frame));
    },
    finish: (framesDecoded) => {
      const readings = Object.fromEntries(
        running.map(({ measure, at }) => [measure.defect, timed(measure.defect, () => at.finish())]),
      );
      return {
        schema: 'bevrin.measure/1',
        clip: {
          ...facts,
          frames: framesDecoded,
          durationSec: framesDecoded / rationalToNumber(facts.frameRate),
          activePicture: null,
          duplicateFrames: null,
        },
        shots: [...ground.shots()],
        readings: Readings.parse({ ...unbuiltReadings(), ...readings }),
      };
    },
    profile: () => spent,
  };
};
