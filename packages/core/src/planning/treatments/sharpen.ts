import { expecting, round, type Treatment } from '../treatment.js';

/** The re-blur that a sharpening mask starts from lies this much above the blur itself. */
const RADIUS_OVER_BLUR = 1.15;

/** Blur beyond this cannot be sharpened back: what is gone is below the noise. */
const MOST_SHARPENED_PX = 2.2;

/** Sharpening a picture raises its noise by about this much. */
const LEAST_THRESHOLD_SIGMAS = 3;

/** Edges are steepened. */
export const sharpen: Treatment = {
  treatment: 'sharpen',
  defect: 'softness',
  readings: ['blurSigmaPx'],
  precedes: 'It comes at the very end: it raises grain and draws halos round whatever is left.',
  propose: (finding, { clip, readings: { softness, noise } }) => {
    if (softness.state !== 'measured') return null;
    const blurSigmaPx = finding.value;
    if (blurSigmaPx <= finding.target) return null;
    const { effectiveWidth } = softness.values;
    const sigma = noise.state === 'measured' ? noise.values.lumaPct : 1;
    return {
      settings: {
        radiusPx: round(blurSigmaPx * RADIUS_OVER_BLUR),
        strengthPct: round(Math.min(150, 60 + 40 * (blurSigmaPx / finding.target)), 0),
        thresholdPct: round(LEAST_THRESHOLD_SIGMAS * sigma),
      },
      expect: expecting(finding, blurSigmaPx > MOST_SHARPENED_PX ? blurSigmaPx * 0.85 : blurSigmaPx * 0.7),
      risks: [
        'Halos along hard edges, and skin that looks hard: limit it to edges.',
        ...(sigma > 1 ? [`The noise of ${round(sigma)} % rises with it: reduce it before.`] : []),
      ],
      check: [
        'Set it beside a sharp clip of the batch at the same zoom.',
        'Look along the brightest edge for a halo.',
      ],
      fallback: [
        'Sharpen half as much and only the eyes and edges that carry the picture, or leave it soft and waive.',
      ],
      cost: { renderWeight: 0.8, artistMinutes: 8, cropPct: 0 },
      because: `Its edges are blurred by ${round(blurSigmaPx)} px: the detail of a picture ${effectiveWidth} px wide, shown at ${clip.width}.`,
      chance: blurSigmaPx > MOST_SHARPENED_PX ? 0.2 : 0.5,
    };
  },
};
