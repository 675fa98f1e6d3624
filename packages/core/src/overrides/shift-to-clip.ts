import { descriptorOf, type Defect, type Measurement, type Readings } from '#document';
import { movedSpan } from '../measures/extent.js';

/**
 * Sets a measurement of a part of a clip back into the whole: positions move by the in point, and series hold `null`
 * where nothing was looked at.
 * @param startFrame the in point
 * @param frames of the whole clip
 */
export const shiftedToClip = (part: Measurement, startFrame: number, frames: number): Measurement => {
  if (startFrame === 0) return part;
  const padded = (values: readonly (number | null)[]): (number | null)[] => [
    ...new Array<null>(startFrame).fill(null),
    ...values,
    ...new Array<null>(Math.max(0, frames - startFrame - values.length)).fill(null),
  ];
  const shifted = ([defect, reading]: [string, Readings[Defect]]): [string, unknown] => {
    if (reading.state === 'notMeasurable') return [defect, reading];
    const series = Object.entries(reading.series as Record<string, (number | null)[]>);
    return [
      defect,
      {
        ...reading,
        values: descriptorOf(defect as Defect).moved?.(reading.values, startFrame) ?? reading.values,
        series: Object.fromEntries(series.map(([name, values]) => [name, padded(values)])),
        regions: reading.regions.map((r) => movedSpan(r, startFrame)),
      },
    ];
  };
  return {
    ...part,
    clip: { ...part.clip, lostBefore: part.clip.lostBefore?.map((f) => f + startFrame) ?? null },
    shots: part.shots.map((s) => movedSpan(s, startFrame)),
    readings: Object.fromEntries(Object.entries(part.readings).map(shifted)) as Readings,
  };
};
