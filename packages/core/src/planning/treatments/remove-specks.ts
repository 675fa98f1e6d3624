import { expecting, round, type Treatment } from '../treatment.js';

/** What is there for a frame is taken from the frames about it. */
export const removeSpecks: Treatment = {
  treatment: 'removeSpecks',
  defect: 'hotPixels',
  readings: ['specksPerFrame'],
  precedes: 'Averaging over time would spread a speck over its neighbours.',
  propose: (finding, { readings: { hotPixels } }) => {
    if (hotPixels.state !== 'measured' || !hotPixels.values.specks) return null;
    const { medianAreaPx, largestPct, frames, perFrame } = hotPixels.values.specks;
    return {
      settings: {
        frames: frames.slice(0, 200).map((f) => [f.frame]),
        largestAreaPx: round(2 * medianAreaPx, 0),
        framesEachSide: 1,
      },
      expect: expecting(finding, 0.15 * perFrame),
      risks: [
        'What truly flashes for one frame (glints on water, leaves) can go with the specks: look at what is taken away.',
        ...(largestPct > 0.5 ? ['The largest are filled from their neighbours and can smear.'] : []),
      ],
      check: [
        `Step through frame ${frames[0]?.frame ?? 0} and the frames about it.`,
        'Look at hard moving edges.',
      ],
      fallback: ['Paint the largest by hand, and leave moving water and leaves out by a mask.'],
      cost: { renderWeight: 1.5, artistMinutes: round(3 + frames.length * 0.2, 0), cropPct: 0 },
      because: `${round(perFrame)} small things a frame are there once and gone.`,
      chance: 0.75,
    };
  },
};
