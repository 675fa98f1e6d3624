import { DEFECTS, type Measurement } from '@bevrin/contract';
import { intervalOf } from '@bevrin/core';
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
  /** Whether the truth lies inside the 90 % interval of the reading; `null` where it states none. */
  readonly inside: boolean | null;
  /** Confidence of the reading; `null` where it was not measured. */
  readonly confidence: number | null;
}

/** Renders (or takes from the cache) and measures one clip of the set. */
export const outcomesOf = async ({ measure, name, clip, checks }: AccuracyCase): Promise<Outcome[]> => {
  const { path, truth } = await renderStudy(clip);
  const checked = await checks(truth);
  // What is looked at alone: a measure reads the same by itself as among the others.
  const only = DEFECTS.filter((d) => d === measure || checked.some((c) => c.reading.startsWith(`${d}.`)));
  const measurement = await measureClip(path, only.length > 0 ? { only } : {});
  return checked.map((check) => outcomeOf(measure, name, check, measurement));
};

/** Sets one figure of a measurement against its truth. */
export const outcomeOf = (measure: string, name: string, check: Check, measurement: Measurement): Outcome => {
  const value = readingOf(measurement, check);
  const within = meets(check, value, 'goal') ? 'goal' : meets(check, value, 'bar') ? 'bar' : 'neither';
  return { measure, name, check, value, within, ...evidenceOf(check, measurement) };
};

/** What a reading says of its own truth. */
const evidenceOf = (
  { reading, truth }: Check,
  { readings }: Measurement,
): Pick<Outcome, 'inside' | 'confidence'> => {
  const [name, figure] = reading.split('.');
  const defect = DEFECTS.find((d) => d === name.split(' ')[0]);
  if (!defect) return { inside: null, confidence: null };
  const seen = readings[defect];
  if (seen.state !== 'measured') return { inside: null, confidence: null };
  const { confidence, values } = seen;
  const value = (values as Record<string, unknown>)[figure ?? ''];
  const interval =
    typeof value === 'number' && typeof truth === 'number' ? intervalOf(defect, figure, value, seen) : null;
  return {
    inside: interval && typeof truth === 'number' ? truth >= interval.low && truth <= interval.high : null,
    confidence,
  };
};
