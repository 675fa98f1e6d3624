import { round, type Treatment } from '../treatment.js';

/** Faulty pixels are taken from their surroundings. */
export const correctPixels: Treatment = {
  treatment: 'correctPixels',
  defect: 'hotPixels',
  readings: ['count'],
  precedes: 'Faults sit still on the sensor only until the picture is moved, scaled or averaged.',
  propose: (finding, { readings: { hotPixels } }) => {
    if (hotPixels.state !== 'measured') return null;
    const { pixels } = hotPixels.values;
    return {
      settings: {
        positions: pixels.map((p) => [p.x, p.y]),
        radiusPx: 2,
        method: 'median of the surroundings in the same frame',
      },
      expect: { reading: finding.reading, unit: finding.unit, from: finding.value, to: 0 },
      risks: [
        'Where fine detail crosses a corrected place it is interpolated: a small smudge can crawl over it.',
      ],
      check: [
        'Enlarge the first three positions 6 times on a frame with a plain background.',
        'Look for new faults in the darkest shot: more of them show as the sensor warms up.',
      ],
      fallback: [
        'Where detail crawls over a place, take it from the neighbouring frame instead of from the same one.',
      ],
      cost: { renderWeight: 0.2, artistMinutes: round(2 + pixels.length * 0.1, 0), cropPct: 0 },
      because: `${pixels.length} ${pixels.length === 1 ? 'place stands' : 'places stand'} out at the same position whatever the scene does.`,
      chance: 0.95,
    };
  },
};
