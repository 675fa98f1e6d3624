import { z } from 'zod';
import { amount, Percent, Series } from '#terms';
import { describeDefect } from '../descriptor.js';
import { shareOfTime, sizes } from '../extent.js';

/** What is read of the read-out: its time in ms and as a share of the frame interval, lean in degrees, wobble in clip pixels. */
export const RollingShutterValues = z.strictObject({
  readoutFraction: z.number().min(0).max(1),
  readoutMs: z.number().nonnegative(),
  skewDeg: z.number().nonnegative(),
  wobblePx: z.number().nonnegative(),
  /** The same over the width of the picture, %; `null` of a measurement from before it was read. */
  wobblePctWidth: Percent.nullable().default(null),
  /** How well each read-out explains what was seen: the smaller the residual, the better. */
  candidates: z.array(z.strictObject({ readoutFraction: z.number(), residualPx: z.number().nonnegative() })),
});
export type RollingShutterValues = z.infer<typeof RollingShutterValues>;

/** `leanPx`: how far the last row lies to the right of the first, because it was read later. */
export const RollingShutterSeries = z.strictObject({ leanPx: Series });

/** Rolling shutter: rows that were read one after the other while the camera moved. */
export const rollingShutter = describeDefect({
  defect: 'rollingShutter',
  name: 'Rolling shutter',
  shortName: 'Rolling',
  values: RollingShutterValues,
  series: RollingShutterSeries,
  figures: {
    readoutMs: { label: 'read-out', unit: 'ms', better: 'lower', finding: 'Rolling shutter, read-out' },
    readoutFraction: {
      interval: { share: 0.025, amount: 0.012 },
      label: 'of the frame interval',
      unit: '',
      better: 'lower',
      finding: 'Rolling shutter, of the frame',
      words: ({ readoutFraction }) => `${Math.round(100 * readoutFraction)} %`,
      accuracy: { bar: { amount: 0.06 }, goal: { amount: 0.02 } },
    },
    skewDeg: {
      interval: { share: 0.03, amount: 0.02 },
      label: 'lean at the fastest',
      unit: '°',
      better: 'lower',
      finding: 'Rolling shutter',
      accuracy: { bar: { share: 0.15, amount: 0.05 }, goal: { share: 0.06, amount: 0.02 } },
    },
    wobblePx: { label: 'wobble, RMS', unit: 'px', better: 'lower', finding: 'Rolling shutter, wobble' },
    wobblePctWidth: {
      interval: { share: 0.05, amount: 0.003 },
      label: 'wobble, of the width',
      unit: '%',
      better: 'lower',
      finding: 'Wobble of the rows',
      words: ({ wobblePctWidth }) => (wobblePctWidth === null ? 'not read' : amount(wobblePctWidth, '%')),
      accuracy: { bar: { share: 0.15, amount: 0.005 }, goal: { share: 0.06, amount: 0.002 } },
    },
  },
  seriesLabels: { leanPx: { label: 'lean', unit: 'px' } },
  needs: ['small'],
  overrides: [],
  lies: 'everywhere',
  extent: ({ series }) => shareOfTime(series.leanPx),
  strength: ({ series }) => sizes(series.leanPx),
  plainStrength: 4,
  load: async () => (await import('./rolling-shutter.js')).rollingShutter,
});
