import { z } from 'zod';
import { Percent, Region } from '#terms';
import { describeDefect, type Extent } from '../descriptor.js';
import { movedSpan } from '../extent.js';

/** One pattern and where it lies; period and crawl in clip pixels. */
export const MoirePattern = z.strictObject({
  ...Region.shape,
  periodPx: z.number().positive(),
  kind: z.enum(['luma', 'colour']),
  crawlPxPerFrame: z.number().nonnegative().nullable(),
});

/** What is read of moiré: an index of 0–100, the area in %, and each pattern. */
export const MoireValues = z.strictObject({
  index: z.number().min(0).max(100),
  areaPct: Percent,
  patternCount: z.int().nonnegative(),
  patterns: z.array(MoirePattern),
});
export type MoireValues = z.infer<typeof MoireValues>;

const extentOf = ({ areaPct, patterns }: MoireValues, frames: number): Extent => {
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

/** Moiré: patterns that the sensor's own grid makes of fine ones. */
export const moire = describeDefect({
  defect: 'moire',
  name: 'Moiré',
  shortName: 'Moiré',
  values: MoireValues,
  series: z.strictObject({}),
  figures: {
    index: { label: 'index', unit: '', better: 'lower', finding: 'Moiré' },
    areaPct: { label: 'area', unit: '%', better: 'lower', finding: 'Moiré, area' },
    patternCount: { label: 'patterns', unit: '', better: 'lower', finding: 'Moiré, patterns' },
  },
  seriesLabels: {},
  needs: ['burst'],
  overrides: [],
  lies: 'inAreas',
  extent: ({ values }, _name, frames) => extentOf(values, frames),
  moved: (values, by) => ({ ...values, patterns: values.patterns.map((p) => movedSpan(p, by)) }),
  load: async () => (await import('./moire.js')).moire,
});
