import { expect } from 'chai';
import { blobsBeyond, brightestLeft } from './standing.js';

const [width, height] = [80, 60];

/** A picture of round places: how far each stands out. */
const standingOut = (places: readonly { x: number; y: number; peak: number }[]) => ({
  width,
  height,
  samples: Float32Array.from({ length: width * height }, (_, i) => {
    const [x, y] = [i % width, Math.floor(i / width)];
    return places.reduce((sum, p) => sum + p.peak * Math.exp(-((x - p.x) ** 2 + (y - p.y) ** 2) / 10), 0);
  }),
});

describe('what stands out of the looks at a lens', () => {
  const TRACE = { x: -16, y: -3 };
  const spot = { x: 45, y: 30, peak: -0.3 };
  const itsTrace = { x: spot.x + TRACE.x, y: spot.y + TRACE.y, peak: 0.31 };

  it('is told the strongest first, each place once', () => {
    const blobs = blobsBeyond(standingOut([{ x: 20, y: 12, peak: 0.2 }, spot]), 0.15);
    expect(blobs.map(({ peak }) => Math.round(100 * peak))).to.deep.equal([-30, 20]);
    expect(Math.round(blobs[0].blob.x)).to.equal(spot.x);
  });

  it('is left of the scene where it is bright, but for the trace of a spot, though that is the stronger', () => {
    const left = (places: Parameters<typeof standingOut>[0]): number =>
      brightestLeft(blobsBeyond(standingOut(places), 0.05), TRACE);
    expect(left([spot, itsTrace])).to.equal(0);
    expect(left([spot, { ...itsTrace, y: 55 }]), 'elsewhere').to.be.closeTo(0.31, 0.01);
    expect(left([{ ...spot, peak: -0.1 }, itsTrace]), 'of a spot much weaker').to.be.closeTo(0.31, 0.01);
  });

  it('is too small to say anything below the size of a spot', () => {
    const one = standingOut([]);
    one.samples[20 * width + 20] = 0.4;
    expect(brightestLeft(blobsBeyond(one, 0.05), TRACE)).to.equal(0);
  });
});
