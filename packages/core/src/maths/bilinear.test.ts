import { expect } from 'chai';
import { bilinear, bilinearWithin } from './bilinear.js';

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

  it('goes on beyond its edges as it ends', () => {
    for (const [x, y, u, v] of [
      [-3, 1.5, 0, 1.5],
      [2.25, 9, 2.25, H - 1],
      [W + 4, -1, W - 1, 0],
      [W - 1, H - 1, W - 1, H - 1],
      [1.5, 2.5, 1.5, 2.5],
    ])
      expect(bilinearWithin(samples, W, H, x, y)).to.be.closeTo(plane(u, v), 1e-12);
  });
});
