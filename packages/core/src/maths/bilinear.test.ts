import { expect } from 'chai';
import { bilinear } from './bilinear.js';

describe('a picture between its samples', () => {
  const [W, H] = [5, 4];
  const plane = (x: number, y: number): number => 3 + 2 * x - 0.7 * y + 0.25 * x * y;
  const samples = Float64Array.from({ length: W * H }, (_, i) => plane(i % W, Math.floor(i / W)));

  it('is itself at its samples, and what a bilinear picture says between them', () => {
    for (const [x, y] of [
      [0, 0],
      [3, 2],
      [0.25, 1.5],
      [3.9, 2.99],
    ])
      expect(bilinear(samples, W, x, y)).to.be.closeTo(plane(x, y), 1e-12);
  });
});
