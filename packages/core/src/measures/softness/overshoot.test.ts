import { expect } from 'chai';
import { overshootAt } from './overshoot.js';

/** A vertical edge of a hundred codes, blurred, with lines of some codes beside it. */
const edge =
  (line: { bright: number; dark: number }) =>
  (x: number): number => {
    const step = 60 + 100 / (1 + Math.exp(-(x - 20) / 0.5));
    const beside = Math.exp(-(((Math.abs(x - 20) - 2) / 1) ** 2));
    return step + (x > 20 ? line.bright : -line.dark) * beside;
  };
const read = (line: { bright: number; dark: number }) => overshootAt(edge(line), 20, 20, 1, 0);

describe('lines beside an edge', () => {
  it('are read as a share of the step', () => {
    expect(read({ bright: 12, dark: 12 })).to.be.closeTo(0.12, 0.03);
    expect(read({ bright: 0, dark: 0 })).to.be.below(0.01);
  });

  it('are none where one side alone rises: that is the scene', () => {
    expect(read({ bright: 15, dark: 0 })).to.be.below(0.01);
  });

  it('are not told where the sides are not flat', () => {
    const busy = (x: number): number => edge({ bright: 0, dark: 0 })(x) + 40 * Math.sin(1.3 * x);
    expect(overshootAt(busy, 20, 20, 1, 0)).to.equal(null);
  });
});
