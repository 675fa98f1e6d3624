import { expecting, round, type Treatment } from '../treatment.js';

/** Codes of 10 bits that one code of 8 holds. */
const WORKING_BITS = 10;

/** Steps in gradients are smoothed at a higher depth, and dithered. */
export const deband: Treatment = {
  treatment: 'deband',
  defect: 'banding',
  precedes: 'Scaling spreads the steps; and grain laid over them comes last.',
  propose: (finding, { clip, readings: { banding } }) => {
    if (banding.state !== 'measured') return null;
    const { stepPct, areaPct } = banding.values;
    return {
      settings: {
        thresholdPct: round(1.2 * stepPct),
        radiusPx: Math.round(clip.width / 60),
        ditherPct: round(0.4 * stepPct),
        workingBits: Math.max(WORKING_BITS, clip.bitDepth),
      },
      expect: expecting(finding, finding.value * 0.15),
      risks: ['Faint texture below the threshold goes with the steps: plaster, haze, skin.'],
      check: ['Lift the shadows and look at the sky.', 'Look at faint clouds and walls for smearing.'],
      fallback: ['If faint texture goes, work on the sky alone, or add grain over the steps instead.'],
      cost: { renderWeight: 1.2, artistMinutes: 6, cropPct: 0 },
      because: `${round(areaPct, 0)} % of the picture steps by ${round(stepPct)} % of the range; the gradient is rebuilt at ${Math.max(WORKING_BITS, clip.bitDepth)} bits and dithered.`,
      chance: 0.8,
    };
  },
};
