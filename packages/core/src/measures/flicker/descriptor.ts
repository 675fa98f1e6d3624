import { z } from 'zod';
import { amount, Percent, Series } from '#terms';
import { describeDefect } from '../descriptor.js';
import { shareOfTime, sizes } from '../extent.js';

/** How light can swing. */
export const FLICKER_PATTERNS = ['none', 'whole-frame', 'rolling-bars', 'irregular'] as const;

/** What is read of flicker: depth and RMS in % of the mean light, frequencies in Hz as the clip shows them. */
export const FlickerValues = z.strictObject({
  depthPct: Percent,
  rmsPct: Percent,
  frequencyHz: z.number().nonnegative().nullable(),
  pattern: z.enum(FLICKER_PATTERNS),
  barsPerFrame: z.number().nonnegative().nullable(),
  barDriftPerSec: z.number().nullable(),
  lampHz: z.array(
    z.strictObject({ lightHz: z.number(), aliasHz: z.number(), steadyShuttersSec: z.array(z.number()) }),
  ),
  /** Steps and ramps of the exposure: where each begins, how many frames it takes, and by how much the light changes. */
  exposureChanges: z
    .array(
      z.strictObject({
        frame: z.int().nonnegative(),
        frames: z.int().positive(),
        changePct: z.number(),
      }),
    )
    .default([]),
  /** The largest of them, % of the light before; 0 where there is none, `null` where nobody looked for any. */
  exposureChangePct: Percent.nullable().default(null),
  spectrum: z.array(z.strictObject({ frequencyHz: z.number(), amplitudePct: Percent })),
  /** Where there are rolling bars: light of each row band, from the top, about its slow course, over the first seconds. */
  rows: z
    .strictObject({
      startFrame: z.int().nonnegative(),
      lightPct: z.array(z.array(z.number().nullable())),
    })
    .optional(),
});
export type FlickerValues = z.infer<typeof FlickerValues>;

/** `lightPct`: light about its slow course; of the whole frame, or of the middle row band where there are rolling bars. */
export const FlickerSeries = z.strictObject({ lightPct: Series });

const optional = (value: number | null, unit: string): string =>
  value === null ? 'none' : amount(value, unit);

const shutter = (seconds: number): string => `1/${Number((1 / seconds).toFixed(1))} s`;
/** More shutter speeds than these help nobody. */
const MOST_SHUTTERS = 3;

/** Flicker: light that goes up and down, in the whole frame or in bars. */
export const flicker = describeDefect({
  defect: 'flicker',
  name: 'Flicker',
  shortName: 'Flick.',
  values: FlickerValues,
  series: FlickerSeries,
  figures: {
    depthPct: {
      interval: { share: 0.05, amount: 0.12 },
      label: 'depth',
      unit: '%',
      better: 'lower',
      finding: 'Flicker',
      accuracy: { bar: { share: 0.15 }, goal: { share: 0.05 } },
    },
    rmsPct: {
      interval: { share: 0.05, amount: 0.12 },
      label: 'RMS',
      unit: '%',
      better: 'lower',
      finding: 'Flicker, RMS',
      accuracy: { bar: { share: 0.15 }, goal: { share: 0.05 } },
    },
    exposureChangePct: {
      interval: { share: 0.03, amount: 1 },
      accuracy: { bar: { share: 0.15 }, goal: { share: 0.06 } },
      label: 'largest change of exposure',
      unit: '%',
      better: 'lower',
      finding: 'Change of exposure',
      words: ({ exposureChanges, exposureChangePct }) =>
        exposureChangePct === null
          ? 'not looked for'
          : exposureChanges.length === 0
            ? 'none'
            : `${amount(exposureChangePct, '%')}, frame ${exposureChanges.map((c) => c.frame).join(', ')}`,
    },
    pattern: {
      label: 'pattern',
      unit: '',
      better: null,
      words: ({ pattern }) => pattern.replace('-', ' '),
    },
    frequencyHz: {
      label: 'frequency',
      unit: 'Hz',
      better: null,
      words: ({ frequencyHz }) => optional(frequencyHz, 'Hz'),
      accuracy: { bar: { amount: 0.2 }, goal: { amount: 0.05 } },
    },
    barsPerFrame: {
      label: 'bars in the frame',
      unit: '',
      better: null,
      words: ({ barsPerFrame }) => optional(barsPerFrame, ''),
      accuracy: { bar: { amount: 0.15 }, goal: { amount: 0.05 } },
    },
    barDriftPerSec: {
      label: 'drift',
      unit: 'heights/s',
      better: null,
      words: ({ barDriftPerSec }) => optional(barDriftPerSec, 'heights/s'),
    },
  },
  alsoFigures: ({ lampHz }) =>
    lampHz.flatMap((lamp) => [
      ['lamps', `${lamp.lightHz} Hz light`] as const,
      [
        'steady shutters',
        lamp.steadyShuttersSec.map(shutter).slice(0, MOST_SHUTTERS).join(', ') || 'none',
      ] as const,
    ]),
  seriesLabels: { lightPct: { label: 'light', unit: '%' } },
  needs: ['small'],
  overrides: [],
  lies: 'everywhere',
  extent: ({ series }) => shareOfTime(series.lightPct),
  strength: ({ series }) => sizes(series.lightPct),
  plainStrength: 3,
  moved: (values, by) => ({
    ...values,
    exposureChanges: values.exposureChanges.map((c) => ({ ...c, frame: c.frame + by })),
    ...(values.rows && { rows: { ...values.rows, startFrame: values.rows.startFrame + by } }),
  }),
  load: async () => (await import('./flicker.js')).flicker,
});
