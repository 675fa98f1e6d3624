import type { Measurement } from '@bevrin/contract';
import { measureClip } from '@bevrin/media';
import { renderStudy } from '@bevrin/rig';
import { meets, readingOf, type AccuracyCase, type Check } from './check.js';

/** One reading set against what was put in. */
export interface Outcome {
  readonly measure: string;
  readonly name: string;
  readonly check: Check;
  readonly value: number | string | null;
  readonly within: 'goal' | 'bar' | 'neither';
}

/** Renders (or takes from the cache) and measures one clip of the set. */
export const outcomesOf = async ({ measure, name, clip, checks }: AccuracyCase): Promise<Outcome[]> => {
  const { path, truth } = await renderStudy(clip);
  const measurement = await measureClip(path);
  return checks(truth).map((check) => outcomeOf(measure, name, check, measurement));
};

/** Sets one figure of a measurement against its truth. */
export const outcomeOf = (measure: string, name: string, check: Check, measurement: Measurement): Outcome => {
  const value = readingOf(measurement, check);
  const within = meets(check, value, 'goal') ? 'goal' : meets(check, value, 'bar') ? 'bar' : 'neither';
  return { measure, name, check, value, within };
};
