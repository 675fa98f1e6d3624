import { descriptorOf, type Defect, type Measurement, type Region } from '#document';

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
  const strength = strengthOf(readings, defect);
  const frame = strength ? farthest(strength) : descriptorOf(defect).worstFrame?.(reading);
  return { frame: inside(region, frame ?? midOf(region, clip.frames)), region };
};

const inside = (region: Region | null, frame: number): number =>
  region ? Math.max(region.startFrame, Math.min(region.endFrame, frame)) : frame;

const midOf = (region: Region | null, frames: number): number =>
  region ? Math.floor((region.startFrame + region.endFrame) / 2) : Math.floor(frames / 2);

/**
 * How strong a defect is in each frame, not negative, in the unit of its reading; `null` for a defect that was not
 * followed frame by frame.
 */
export const strengthOf = (readings: Measurement['readings'], defect: Defect): (number | null)[] | null => {
  const reading = readings[defect];
  return reading.state === 'measured' ? (descriptorOf(defect).strength?.(reading) ?? null) : null;
};

const farthest = (strength: readonly (number | null)[]): number =>
  strength.reduce<number>((best, v, f) => ((v ?? -1) > (strength[best] ?? -1) ? f : best), 0);
