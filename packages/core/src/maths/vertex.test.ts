import { expect } from 'chai';
import { vertexOf } from './vertex.js';

describe('the vertex through three samples', () => {
  const parabola = (top: number, height: number) => (x: number) => 7 + height * (x - top) ** 2;

  it('is where the parabola has its peak, or its trough', () => {
    for (const top of [-0.4, 0, 0.13, 0.5]) {
      const peak = parabola(top, -3);
      expect(vertexOf(peak(-1), peak(0), peak(1))).to.be.closeTo(top, 1e-12);
      const trough = parabola(top, 2);
      expect(vertexOf(trough(-1), trough(0), trough(1), 'trough')).to.be.closeTo(top, 1e-12);
    }
  });

  it('is nowhere but in the middle where the three lie in a line, or bend the other way', () => {
    expect(vertexOf(1, 2, 3)).to.equal(0);
    expect(vertexOf(3, 1, 3)).to.equal(0);
    expect(vertexOf(1, 3, 1, 'trough')).to.equal(0);
    expect(vertexOf(NaN, 1, 1)).to.equal(0);
  });

  it('never lies nearer to another sample', () => {
    expect(vertexOf(12, 10, 0)).to.equal(-0.5);
    expect(vertexOf(1, 2, 2.999)).to.equal(0.5);
  });
});
