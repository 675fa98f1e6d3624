import { z } from 'zod';
import { amount, CAMERA_KINDS, Percent, Series } from '#terms';
import { describeDefect } from '../descriptor.js';
import { shareOfTime } from '../extent.js';

/** What a camera was held by, as far as its path tells. */
export const CAMERAS = [...CAMERA_KINDS, 'unknown'] as const;

/** What is read of shake: jitter in clip pixels, % of the width and degrees; crop and share of what moves by itself in %. */
export const ShakeValues = z.strictObject({
  jitterRmsPx: z.number().nonnegative(),
  jitterPctWidth: Percent,
  peakPx: z.number().nonnegative(),
  jitterRmsDeg: z.number().nonnegative(),
  dominantHz: z.number().nonnegative().nullable(),
  cropPct: Percent,
  movingSubjectPct: Percent,
  camera: z.enum(CAMERAS),
  spectrum: z.array(z.strictObject({ frequencyHz: z.number(), amplitudePx: z.number().nonnegative() })),
});
export type ShakeValues = z.infer<typeof ShakeValues>;

/**
 * `jitterX`, `jitterY`: the picture's centre about the intended path; `intendedX`, `intendedY`: that path. Clip pixels.
 * `jitterTurn`, degrees, and `jitterZoom`, %: the picture about how it was meant to lie; empty of a measurement from before
 * they were kept.
 */
export const ShakeSeries = z.strictObject({
  jitterX: Series,
  jitterY: Series,
  intendedX: Series,
  intendedY: Series,
  jitterTurn: Series.default([]),
  jitterZoom: Series.default([]),
});
export type ShakeSeries = z.infer<typeof ShakeSeries>;

/** How far the picture's centre lies from the intended path in each frame, clip pixels. */
const distances = ({ jitterX, jitterY }: ShakeSeries): (number | null)[] =>
  jitterX.map((x, f) => {
    const y = jitterY[f];
    return x === null || y === null ? null : Math.hypot(x, y);
  });

/** Shake: the camera's path about the one that was intended. */
export const shake = describeDefect({
  defect: 'shake',
  name: 'Shake',
  shortName: 'Shake',
  values: ShakeValues,
  series: ShakeSeries,
  figures: {
    jitterRmsPx: {
      interval: { share: 0.025, amount: 0.015 },
      label: 'jitter, RMS',
      unit: 'px',
      better: 'lower',
      finding: 'Shake, in pixels',
      accuracy: { bar: { share: 0.04, amount: 0.03 }, goal: { share: 0.015, amount: 0.01 } },
    },
    jitterPctWidth: {
      interval: { share: 0.025, amount: 0.003 },
      label: 'of the width',
      unit: '%',
      better: 'lower',
      finding: 'Shake',
      accuracy: { bar: { share: 0.04, amount: 0.003 }, goal: { share: 0.015, amount: 0.001 } },
    },
    peakPx: { label: 'farthest', unit: 'px', better: 'lower', finding: 'Shake, farthest' },
    jitterRmsDeg: { label: 'rotation, RMS', unit: '°', better: 'lower', finding: 'Shake, rotation' },
    dominantHz: {
      label: 'strongest at',
      unit: 'Hz',
      better: null,
      words: ({ dominantHz }) => (dominantHz === null ? 'none' : amount(dominantHz, 'Hz')),
    },
    cropPct: { label: 'crop to hide it', unit: '%', better: 'lower', finding: 'Shake, crop to hide it' },
    movingSubjectPct: { label: 'goes its own way', unit: '%', better: null },
    camera: { label: 'camera', unit: '', better: null },
  },
  seriesLabels: { jitterX: { label: 'sway', unit: 'px' } },
  needs: ['small'],
  overrides: ['intent'],
  lies: 'everywhere',
  extent: ({ series }) => shareOfTime(distances(series)),
  strength: ({ series }) => distances(series),
  plainStrength: 4,
  load: async () => (await import('./shake.js')).shake,
});
