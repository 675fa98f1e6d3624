import { expect } from 'chai';
import { measurementWith } from '../../../../tests/support/measurement.js';
import { shiftedToClip } from './shift-to-clip.js';

describe('a part of a clip', () => {
  it('is set back into the whole: positions move by the in point, series are filled up', () => {
    const part = measurementWith();
    const { noise, flicker } = part.readings;
    if (noise.state !== 'measured' || flicker.state !== 'measured') throw new Error('not measured');
    const region = { x: 1, y: 2, width: 3, height: 4, startFrame: 0, endFrame: 4, strength: 7 };
    const placed = shiftedToClip(
      {
        ...part,
        clip: { ...part.clip, lostBefore: [3] },
        shots: [{ startFrame: 0, endFrame: 4 }],
        readings: {
          ...part.readings,
          noise: { ...noise, regions: [region] },
          flicker: { ...flicker, series: { lightPct: [1, 2, 3, 4, 5] } },
        },
      },
      10,
      18,
    );
    expect(placed.shots).to.deep.equal([{ startFrame: 10, endFrame: 14 }]);
    expect(placed.readings.noise.regions[0]).to.deep.equal({ ...region, startFrame: 10, endFrame: 14 });
    expect(placed.clip.lostBefore).to.deep.equal([13]);
    const light = placed.readings.flicker.series as { lightPct: (number | null)[] };
    expect(light.lightPct).to.have.length(18);
    expect(light.lightPct.slice(9, 16)).to.deep.equal([null, 1, 2, 3, 4, 5, null]);
  });
});
