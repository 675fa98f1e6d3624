import type { Measurement } from '@bevrin/contract';
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
  /** How the figure is worked out, where the document does not hold it as it is. */
  readonly from?: (measurement: Measurement) => number | null;
}

export interface AccuracyCase {
  readonly measure: string;
  readonly name: string;
  readonly clip: StudyClip;
  readonly checks: (rendered: RenderedStudy['truth']) => readonly Check[];
}

/** An index at or above this says that the thing is there. */
export const PRESENT_FROM = 20;

/** What the document says; `null` where it was not measured. */
export const readingOf = (
  measurement: Measurement,
  { reading: path, from }: Check,
): number | string | null => {
  if (from) return from(measurement);
  const [measure, name] = path.split('.');
  const reading = Object.entries(measurement.readings).find(([m]) => m === measure)?.[1];
  if (!reading || reading.state === 'notMeasurable') return null;
  const value = (reading.values as Record<string, unknown>)[name];
  return typeof value === 'number' || typeof value === 'string' ? value : null;
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
