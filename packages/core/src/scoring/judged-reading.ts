import {
  descriptorOf,
  type Defect,
  type JudgedReading,
  type Measurement,
  type Region,
  type Visibility,
} from '#document';
import type { AnyDescriptor } from '../measures/descriptor.js';
import { intervalOf } from './interval.js';
import { FULLY_VISIBLE } from './severity.js';

/** What a limit is set against: a value, and how much of it a viewer notices. No limit plays a part in it. */
export const judgedReading = (measurement: Measurement, defect: Defect, name: string): JudgedReading => {
  const reading = measurement.readings[defect];
  const { frames } = measurement.clip;
  const whole = {
    defect,
    startFrame: 0,
    endFrame: frames - 1,
    frames,
    visibility: FULLY_VISIBLE,
    inInterest: null,
    regions: [],
    interval: null,
  };
  if (reading.state === 'notMeasurable') return { ...whole, value: null, missing: reading.reason };
  const value = (reading.values as Record<string, unknown>)[name];
  if (typeof value !== 'number') return { ...whole, value: null, missing: null };
  const { extent, lies } = descriptorOf(defect);
  const { startFrame = 0, endFrame = frames - 1, ...seen } = extent?.(reading, name, frames) ?? {};
  const inInterest = isInInterest(measurement, lies, reading.regions);
  const place = inInterest === null ? placeOf(measurement, lies, reading.regions) : inInterest ? 1 : 0;
  const visibility: Visibility = { ...FULLY_VISIBLE, place, ...seen };
  return {
    ...whole,
    value,
    interval: intervalOf(defect, name, value, reading),
    missing: null,
    startFrame,
    endFrame,
    visibility,
    inInterest,
    regions: reading.regions,
  };
};

/** Whether something of it lies in the technician's region of interest; a spot on the face is not one in the corner. */
const isInInterest = (
  { measuredUnder: { interest } }: Measurement,
  lies: AnyDescriptor['lies'],
  regions: readonly Region[],
): boolean | null => {
  if (!interest || lies === 'everywhere' || regions.length === 0) return null;
  return regions.some(
    (r) =>
      r.x < interest.x + interest.width &&
      r.x + r.width > interest.x &&
      r.y < interest.y + interest.height &&
      r.y + r.height > interest.y,
  );
};

/** 1 for what lies in the middle of the picture, 0 for what lies at its edge: of the most central region. */
const placeOf = (
  { clip: { width, height } }: Measurement,
  lies: AnyDescriptor['lies'],
  regions: readonly Region[],
): number => {
  if (lies !== 'inAreas' || regions.length === 0) return 1;
  return Math.max(
    ...regions.map(({ x, y, width: w, height: h }) => {
      const [u, v] = [(x + w / 2) / width - 0.5, (y + h / 2) / height - 0.5];
      return Math.max(0, 1 - 2 * Math.max(Math.abs(u), Math.abs(v)));
    }),
  );
};
