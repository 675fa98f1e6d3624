import { expect } from 'chai';
import { mostAlike, placesIn } from './pointed.js';

describe('where a camera pointed to', () => {
  const panned = Array.from({ length: 12 }, (_, f) => ({ x: 3 * f, y: 0 }));
  const held = Array.from({ length: 12 }, (_, f) => ({ x: 0.3 * (f % 2), y: 0 }));

  it('is another place in each frame of a pan, and one place where it is held', () => {
    expect(placesIn(panned, 12, 1)).to.equal(12);
    expect(placesIn(held, 12, 1)).to.be.closeTo(1, 1e-9);
    expect(mostAlike(panned, 1)).to.be.closeTo(1 / 12, 1e-9);
    expect(mostAlike(held, 1)).to.equal(1);
  });

  it('is counted over the last looks alone: a camera that halts tells nothing of what it came upon then', () => {
    const halted = [...panned, ...held.map(({ x, y }) => ({ x: x + 40, y }))];
    expect(placesIn(halted, 12, 1)).to.be.closeTo(1, 1e-9);
    expect(placesIn(halted, 24, 1)).to.be.closeTo(13, 1e-9);
  });

  it('is the same place where samples stand as far apart as it went', () => {
    const slow = Array.from({ length: 6 }, (_, f) => ({ x: 1.5 * f, y: 0 }));
    expect(placesIn(slow, 6, 1)).to.equal(6);
    expect(placesIn(slow, 6, 2)).to.be.lessThan(3);
  });

  it('is nowhere before the first look', () => {
    expect(placesIn([], 3, 1)).to.equal(0);
    expect(mostAlike([], 1)).to.equal(0);
  });
});
