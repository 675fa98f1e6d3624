import { expect } from 'chai';
import { gaussianTaps, MOST_TAPS } from './lens.js';
import { roomsFor } from './loops.js';
import { overshootOf, sharpen, type Sharpening } from './sharpen.js';

const [width, height] = [48, 8];

/** An upright edge from a quarter to three quarters, blurred by a pixel, and sharpened. */
const sharpenedEdge = (by: Sharpening): Float32Array => {
  const { memory, rooms } = roomsFor([3 * width * height, 3 * width * height, 3 * width * height, MOST_TAPS]);
  const [signal, blurred, across, taps] = rooms;
  const wide = gaussianTaps(1);
  const radius = wide.length >> 1;
  const at = (x: number): number =>
    wide.reduce((sum, t, i) => sum + t * (x + i - radius < width / 2 ? 0.25 : 0.75), 0);
  for (let i = 0; i < 3 * width * height; i++) signal.floats[i] = at(Math.floor(i / 3) % width);
  sharpen(memory, signal, blurred, across, taps, width, height, by);
  return Float32Array.from({ length: width }, (_, x) => signal.floats[3 * (4 * width + x) + 1]);
};

describe('sharpening in the rig', () => {
  it('lifts the bright side of an edge and sinks the dark one by as much, and leaves what is far from it', () => {
    const row = sharpenedEdge({ amount: 1, sigmaPx: 1.2 });
    const [above, below] = [Math.max(...row) - 0.75, 0.25 - Math.min(...row)];
    expect(above).to.be.within(0.02, 0.06);
    expect(below).to.be.closeTo(above, 1e-4);
    for (const x of [6, 12]) expect(row[x], `${x}`).to.be.closeTo(0.25, 1e-4);
    for (const x of [36, 41]) expect(row[x], `${x}`).to.be.closeTo(0.75, 1e-4);
  });

  it('changes nothing where nothing is added', () => {
    const row = sharpenedEdge({ amount: 0, sigmaPx: 1.2 });
    expect(Math.max(...row)).to.be.closeTo(0.75, 1e-4);
  });

  it('has as its truth what is seen beside an edge of light: more of it the more was added, the sharper the lens', () => {
    const of = (amount: number, sigmaPx: number, lens: number) => overshootOf({ amount, sigmaPx }, lens);
    expect(of(0, 1, 0.8)).to.be.closeTo(0, 1e-6);
    expect(of(1, 1, 0.8)).to.be.within(0.03, 0.05);
    expect(of(2, 1, 0.8)).to.be.greaterThan(of(1, 1, 0.8));
    expect(of(1, 1, 1.6)).to.be.lessThan(of(1, 1, 0.8));
    expect(of(1, 2, 0.8)).to.be.greaterThan(of(1, 1, 0.8));
  });
});
