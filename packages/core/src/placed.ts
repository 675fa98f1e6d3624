import type { Measurement } from '@bevrin/contract';

/** Keys that hold a position in the clip. */
const POSITIONS = new Set(['frame', 'startFrame', 'endFrame', 'worstFrame']);

/**
 * Sets a measurement of a part of a clip back into the whole: positions move by the in point, and series hold `null`
 * where nothing was looked at.
 * @param startFrame the in point
 * @param frames of the whole clip
 */
export const placedInClip = (part: Measurement, startFrame: number, frames: number): Measurement => {
  if (startFrame === 0) return part;
  const moved = (value: unknown, key: string): unknown => {
    if (typeof value === 'number') return POSITIONS.has(key) ? value + startFrame : value;
    if (Array.isArray(value)) return value.map((v) => moved(v, ''));
    if (value !== null && typeof value === 'object')
      return Object.fromEntries(
        Object.entries(value).map(([k, v]) => [k, k === 'series' ? padded(v as object) : moved(v, k)]),
      );
    return value;
  };
  const padded = (series: object): object =>
    Object.fromEntries(
      Object.entries(series).map(([name, values]: [string, (number | null)[]]) => [
        name,
        [
          ...new Array<null>(startFrame).fill(null),
          ...values,
          ...new Array<null>(Math.max(0, frames - startFrame - values.length)).fill(null),
        ],
      ]),
    );
  return {
    ...part,
    clip: { ...part.clip, lostBefore: part.clip.lostBefore?.map((f) => f + startFrame) ?? null },
    shots: moved(part.shots, '') as Measurement['shots'],
    readings: moved(part.readings, '') as Measurement['readings'],
  };
};
