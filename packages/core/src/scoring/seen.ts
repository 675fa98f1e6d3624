import {
  type Defect,
  type Measurement,
  type MoireValues,
  type Region,
  type SeenReading,
} from '@bevrin/contract';
import { ALL_OF_IT, type Notice } from './severity.js';

/** Contrast from which on a spot draws the eye in full, %. */
const PLAIN_CONTRAST_PCT = 12;
/** Mean over RMS of a sinusoid: a movement as even as that is there all the time. */
const EVEN = 0.9;

type Extent = Partial<Notice> & { readonly startFrame?: number; readonly endFrame?: number };
type Measured<D extends Defect> = Extract<Measurement['readings'][D], { state: 'measured' }>;

/** What a limit is set against: a value, and how much of it a viewer notices. No limit plays a part in it. */
export const seenReading = (measurement: Measurement, defect: Defect, name: string): SeenReading => {
  const reading = measurement.readings[defect];
  const { frames } = measurement.clip;
  const whole = {
    startFrame: 0,
    endFrame: frames - 1,
    frames,
    notice: ALL_OF_IT,
    inInterest: null,
    regions: [],
  };
  if (reading.state === 'notMeasurable') return { ...whole, defect, value: null, missing: reading.reason };
  const value = (reading.values as Record<string, unknown>)[name];
  if (typeof value !== 'number') return { ...whole, defect, value: null, missing: null };
  const { startFrame = 0, endFrame = frames - 1, ...notice } = extentOf(measurement, defect, name);
  const inInterest = isInInterest(measurement, defect, reading.regions);
  return {
    defect,
    value,
    missing: null,
    startFrame,
    endFrame,
    frames,
    notice: {
      ...ALL_OF_IT,
      place: inInterest === null ? placeOf(measurement, defect, reading.regions) : inInterest ? 1 : 0,
      ...notice,
    },
    inInterest,
    regions: reading.regions,
  };
};

/** Defects that lie somewhere in the picture; the others are all over it. */
const BY_PLACE: ReadonlySet<Defect> = new Set(['banding', 'moire']);
/** Those that are told from a technician's region of interest; a spot on the face is not one in the corner. */
const BY_INTEREST: ReadonlySet<Defect> = new Set([...BY_PLACE, 'hotPixels']);

const isInInterest = (
  { measuredUnder: { interest } }: Measurement,
  defect: Defect,
  regions: readonly Region[],
): boolean | null => {
  if (!interest || !BY_INTEREST.has(defect) || regions.length === 0) return null;
  return regions.some(
    (r) =>
      r.x < interest.x + interest.width &&
      r.x + r.width > interest.x &&
      r.y < interest.y + interest.height &&
      r.y + r.height > interest.y,
  );
};

const extentOf = ({ readings, clip }: Measurement, defect: Defect, name: string): Extent => {
  switch (defect) {
    case 'shake': {
      const { jitterX, jitterY } = (readings.shake as Measured<'shake'>).series;
      return lasting(jitterX.map((x, f) => (x === null ? null : Math.hypot(x, jitterY[f] ?? 0))));
    }
    case 'rollingShutter':
      return lasting((readings.rollingShutter as Measured<'rollingShutter'>).series.leanPx);
    case 'flicker':
      return lasting((readings.flicker as Measured<'flicker'>).series.lightPct);
    case 'banding':
      return { area: (readings.banding as Measured<'banding'>).values.areaPct / 100 };
    case 'moire':
      return moireExtent((readings.moire as Measured<'moire'>).values, clip.frames);
    case 'hotPixels': {
      const { pixels, spots } = (readings.hotPixels as Measured<'hotPixels'>).values;
      const contrasts = (name === 'spotCount' ? (spots ?? []) : name === 'count' ? pixels : []).map((p) =>
        Math.abs(p.contrastPct),
      );
      return contrasts.length > 0
        ? { contrast: Math.min(1, Math.max(...contrasts) / PLAIN_CONTRAST_PCT) }
        : {};
    }
    case 'softness': {
      // Its value is a share of time already.
      const runs = (readings.softness as Measured<'softness'>).values.softFrames;
      return name === 'softFramesPct' && runs.length > 0
        ? { startFrame: runs[0].startFrame, endFrame: runs[runs.length - 1].endFrame }
        : {};
    }
    default:
      return {};
  }
};

const moireExtent = ({ areaPct, patterns }: MoireValues, frames: number): Extent => {
  if (patterns.length === 0) return { area: areaPct / 100 };
  const startFrame = Math.min(...patterns.map((p) => p.startFrame));
  const endFrame = Math.max(...patterns.map((p) => p.endFrame));
  return {
    area: areaPct / 100,
    startFrame,
    endFrame,
    time: Math.min(1, (endFrame - startFrame + 1) / frames),
  };
};

/**
 * Share of the time in which a quantity is there: the square of its mean over its mean square, 1 for one that is even,
 * 1/n for one that is all in one of n frames. No limit plays a part, so that moving one does not change it.
 */
const lasting = (series: readonly (number | null)[]): Extent => {
  const known = series.filter((v) => v !== null).map(Math.abs);
  const mean = known.reduce((a, b) => a + b, 0) / Math.max(1, known.length);
  const square = known.reduce((a, b) => a + b * b, 0) / Math.max(1, known.length);
  return square > 0 ? { time: Math.min(1, (mean * mean) / square / EVEN ** 2) } : {};
};

/** 1 for what lies in the middle of the picture, 0 for what lies at its edge: of the most central region. */
const placeOf = (
  { clip: { width, height } }: Measurement,
  defect: Defect,
  regions: readonly Region[],
): number =>
  Math.max(
    ...(BY_PLACE.has(defect) && regions.length > 0 ? [] : [1]),
    ...(BY_PLACE.has(defect) ? regions : []).map(({ x, y, width: w, height: h }) => {
      const [u, v] = [(x + w / 2) / width - 0.5, (y + h / 2) / height - 0.5];
      return Math.max(0, 1 - 2 * Math.max(Math.abs(u), Math.abs(v)));
    }),
  );
