import type { Measurement } from '@bevrin/contract';
import { frameRateOf } from '../../parts/format.js';
import type { EvidenceCurve } from './evidence.js';

/** Seconds from the start of the clip for each value of a series. */
export const secondsOf = ({ clip }: Measurement, series: readonly unknown[]): number[] => {
  const rate = frameRateOf(clip);
  return series.map((_, f) => f / rate);
};

/** A series as a chart over time. */
export const overTime = (
  measurement: Measurement,
  title: string,
  yTitle: string,
  series: readonly (number | null)[],
): EvidenceCurve => ({
  title,
  xTitle: 'time, s',
  yTitle,
  curve: { x: secondsOf(measurement, series), y: series },
  overTime: true,
});
