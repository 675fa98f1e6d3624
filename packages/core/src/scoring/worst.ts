import type { Defect, Measurement, Region } from '@bevrin/contract';

/** Where and when a defect is at its worst; no region where it is all over the picture. */
export interface WorstMoment {
  readonly frame: number;
  readonly region: Region | null;
}

/** The moment to look at first, from the evidence of a reading; `null` where it was not measured. */
export const worstMomentOf = ({ readings, clip }: Measurement, defect: Defect): WorstMoment | null => {
  const reading = readings[defect];
  if (reading.state === 'notMeasurable') return null;
  const [region = null] = [...reading.regions].sort((a, b) => b.strength - a.strength);
  const inside = (frame: number): number =>
    region ? Math.max(region.startFrame, Math.min(region.endFrame, frame)) : frame;
  return { frame: inside(worstFrameOf({ readings, clip }, defect) ?? midOf(region, clip.frames)), region };
};

const midOf = (region: Region | null, frames: number): number =>
  region ? Math.floor((region.startFrame + region.endFrame) / 2) : Math.floor(frames / 2);

const worstFrameOf = (
  { readings }: Pick<Measurement, 'readings' | 'clip'>,
  defect: Defect,
): number | null => {
  const strength = strengthOf(readings, defect);
  if (strength) return farthest(strength);
  const { hotPixels } = readings;
  if (defect !== 'hotPixels' || hotPixels.state === 'notMeasurable') return null;
  const [spot] = hotPixels.values.spots ?? [];
  return spot?.worstFrame ?? null;
};

/**
 * How strong a defect is in each frame, not negative, in the unit of its reading; `null` for a defect that was not
 * followed frame by frame.
 */
export const strengthOf = (readings: Measurement['readings'], defect: Defect): (number | null)[] | null => {
  const { shake, flicker, rollingShutter, softness, hotPixels } = readings;
  if (defect === 'shake' && shake.state === 'measured')
    return shake.series.jitterX.map((x, f) => {
      const y = shake.series.jitterY[f];
      return x === null || y === null ? null : Math.hypot(x, y);
    });
  if (defect === 'flicker' && flicker.state === 'measured') return absolute(flicker.series.lightPct);
  if (defect === 'rollingShutter' && rollingShutter.state === 'measured')
    return absolute(rollingShutter.series.leanPx);
  if (defect === 'softness' && softness.state === 'measured')
    return softness.series.detailPct.map((v) => (v === null ? null : Math.max(0, 100 - v)));
  if (defect === 'hotPixels' && hotPixels.state === 'measured' && hotPixels.values.specks?.frames.length) {
    const { frames } = hotPixels.values.specks;
    const counts = new Array<number>(Math.max(...frames.map((f) => f.frame)) + 1).fill(0);
    for (const { frame, specks } of frames) counts[frame] = specks.length;
    return counts;
  }
  return null;
};

const absolute = (series: readonly (number | null)[]): (number | null)[] =>
  series.map((v) => (v === null ? null : Math.abs(v)));

const farthest = (strength: readonly (number | null)[]): number =>
  strength.reduce<number>((best, v, f) => ((v ?? -1) > (strength[best] ?? -1) ? f : best), 0);
