import type { Reading } from '#terms';
import { smallScale } from '../../picture/signal.js';
import type { Measure } from '../measure.js';
import type { ClippedPictureValues } from './descriptor.js';

/** From this share of the range on a sample is clipped. */
const WHITE = 0.99;

export const clippedPicture: Measure<Reading<ClippedPictureValues, { sharePct: number[] }>> = {
  begin: (clip) => {
    const { black, span } = smallScale(clip);
    const shares: number[] = [];
    return {
      take: ({ planes: [{ samples }] }) => {
        let clipped = 0;
        for (const v of samples) if (v >= black + WHITE * span) clipped++;
        shares.push((100 * clipped) / samples.length);
      },
      finish: () => ({
        state: 'measured',
        reason: null,
        confidence: 1,
        values: {
          sharePct: shares.reduce((a, b) => a + b, 0) / Math.max(1, shares.length),
          worstPct: Math.max(0, ...shares),
        },
        series: { sharePct: shares },
        regions: [],
      }),
    };
  },
};
