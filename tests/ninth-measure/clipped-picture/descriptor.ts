import { z } from 'zod';
import { Percent, Series } from '#terms';
import { describeDefect } from '../descriptor.js';
import { shareOfTime } from '../extent.js';

export const ClippedPictureValues = z.strictObject({ sharePct: Percent, worstPct: Percent });
export type ClippedPictureValues = z.infer<typeof ClippedPictureValues>;

export const ClippedPictureSeries = z.strictObject({ sharePct: Series });

/** Clipped picture: how much of it lies at white or above. */
export const clippedPicture = describeDefect({
  defect: 'clippedPicture',
  name: 'Clipped picture',
  shortName: 'Clip.',
  values: ClippedPictureValues,
  series: ClippedPictureSeries,
  figures: {
    sharePct: {
      label: 'share of the picture',
      unit: '%',
      better: 'lower',
      finding: 'Clipped picture',
      accuracy: { bar: { share: 0.1 }, goal: { share: 0.02 } },
    },
    worstPct: {
      label: 'in the worst frame',
      unit: '%',
      better: 'lower',
      finding: 'Clipped picture, worst frame',
    },
  },
  seriesLabels: { sharePct: { label: 'clipped', unit: '%' } },
  needs: ['small'],
  overrides: [],
  lies: 'everywhere',
  extent: ({ series }) => shareOfTime(series.sharePct),
  strength: ({ series }) => series.sharePct,
  plainStrength: 20,
  load: async () => (await import('./clipped-picture.js')).clippedPicture,
});
