import { descriptorOf, figureAt, type Defect, type Measurement, type Tolerance } from '@bevrin/contract';
import type { RenderedStudy, StudyClip } from '@bevrin/rig';

/** One figure of a drawn clip: what was put in, how far the reading may be off, and how far we want it to be at most. */
export interface Check {
  /** `measure.value`, as in the document; for a figure that has to be worked out, what it is called. */
  readonly reading: string;
  /** A number, a word, or whether the thing is there. */
  readonly truth: number | string | boolean;
  readonly unit: string;
  readonly bar: number;
  readonly goal: number;
  /** Why it is known to be missed; it stays in the table until it is mended. */
  readonly known?: string;
  /** How the figure is worked out, where the document does not hold it as it is. */
  readonly from?: (measurement: Measurement) => number | string | null;
}

export interface AccuracyCase {
  readonly measure: string;
  readonly name: string;
  readonly clip: StudyClip;
  /** Too large to be drawn whenever the tests run: it stands in the table alone. */
  readonly inTableAlone?: boolean;
  readonly checks: (rendered: RenderedStudy['truth']) => readonly Check[] | Promise<readonly Check[]>;
}

/** An index at or above this says that the thing is there. */
export const PRESENT_FROM = 20;

/** What the document says; `null` where it was not measured. */
export const readingOf = (
  measurement: Measurement,
  { reading: path, from }: Check,
): number | string | null => {
  if (from) return from(measurement);
  return figureAt(measurement.readings, path);
};

/** Whether a reading lies within the bar, or within the goal. */
export const meets = (
  { truth, bar, goal }: Check,
  value: number | string | null,
  which: 'bar' | 'goal',
): boolean => {
  if (value === null) return false;
  if (typeof truth === 'string' || typeof value === 'string') return value === truth;
  if (typeof truth === 'boolean') return value >= PRESENT_FROM === truth;
  return Math.abs(value - truth) <= (which === 'bar' ? bar : goal);
};

/** Stored without loss at 10 bits. */
export const TEN_BIT = { format: { bitDepth: 10, chroma: '422' }, codec: 'ffv1' } as const;
/** Black at the lowest code, white at the highest. */
export const FULL_RANGE = { format: { bitDepth: 8, chroma: '420', range: 'full' } } as const;

const allowed = ({ share = 0, amount = 0 }: Tolerance, truth: number): number =>
  share * Math.abs(truth) + amount;

/** A check of one figure against the bar and the goal that its descriptor states. */
export const checkOf = (defect: Defect, name: string, truth: number): Check => {
  const { unit, accuracy } = descriptorOf(defect).figures[name];
  if (!accuracy) throw new Error(`${defect}.${name} states no accuracy`);
  const { bar, goal } = accuracy;
  return {
    reading: `${defect}.${name}`,
    truth,
    unit,
    bar: allowed(bar, truth),
    goal: allowed(goal, truth),
  };
};
