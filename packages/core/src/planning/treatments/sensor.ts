import { expecting, round, type Treatment } from '../treatment.js';

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
