import { z } from 'zod';
import { amount, Percent } from '#terms';
import { describeDefect } from '../descriptor.js';

/** What is read of banding: area and step in %, an index of 0–100, and the codes of luma that were seen. */
export const BandingValues = z.strictObject({
  areaPct: Percent,
  stepPct: Percent,
  index: z.number().min(0).max(100),
  effectiveBits: z.number().positive(),
  /** How often each code was seen, over the part of the range that is used; at most 512 entries. */
  histogram: z.strictObject({ firstCode: z.int().nonnegative(), counts: z.array(z.int().nonnegative()) }),
});
export type BandingValues = z.infer<typeof BandingValues>;

/** Banding: smooth gradients broken into steps that the eye sees. */
export const banding = describeDefect({
  defect: 'banding',
  name: 'Banding',
  shortName: 'Band.',
  values: BandingValues,
  series: z.strictObject({}),
  figures: {
    index: { label: 'index', unit: '', better: 'lower', finding: 'Banding' },
    areaPct: { label: 'banded area', unit: '%', better: 'lower', finding: 'Banding, area' },
    stepPct: {
      label: 'median step',
      unit: '%',
      better: 'lower',
      finding: 'Banding, height of a step',
      words: ({ stepPct }) => (stepPct > 0 ? amount(stepPct, '%') : 'none'),
    },
    effectiveBits: { label: 'bits really used', unit: '', better: 'higher' },
  },
  seriesLabels: {},
  needs: ['burst'],
  overrides: [],
  lies: 'inAreas',
  extent: ({ values }) => ({ area: values.areaPct / 100 }),
  load: async () => (await import('./banding.js')).banding,
});
