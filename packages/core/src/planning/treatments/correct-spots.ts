import { expecting, round, type Treatment } from '../treatment.js';

/** Spots on the lens are lightened or darkened in their place. */
export const correctSpots: Treatment = {
  treatment: 'correctSpots',
  defect: 'hotPixels',
  readings: ['spotCount'],
  precedes: 'Spots sit still on the lens only until the picture is moved.',
  propose: (finding, { readings: { hotPixels } }) => {
    if (hotPixels.state !== 'measured' || !hotPixels.values.spots) return null;
    const { spots } = hotPixels.values;
    const [worst] = spots;
    if (!worst) return null;
    return {
      settings: {
        positions: spots.map((s) => [s.x, s.y, s.radiusPx]),
        gainPct: round(-worst.contrastPct, 1),
        featherPx: round(worst.radiusPx, 0),
      },
      expect: expecting(finding, 0),
      risks: [
        'Where the background changes under a spot, one gain is too much or too little: it shows again.',
      ],
      check: [
        `Go to frame ${worst.worstFrame}, where the ground is brightest, and look at ${Math.round(worst.x)}, ${Math.round(worst.y)}.`,
        'Play a pan across each place.',
      ],
      fallback: [
        'Where it shows again, follow the background with a gain of its own for each stretch of frames.',
      ],
      cost: { renderWeight: 0.3, artistMinutes: 4 + 3 * spots.length, cropPct: 0 },
      because: `${spots.length === 1 ? 'A soft spot stays' : `${spots.length} soft spots stay`} in place while the scene passes behind; the worst changes the light by ${round(worst.contrastPct, 1)} %.`,
      chance: 0.8,
    };
  },
};
