import { expect } from 'chai';
import { fractal } from '../random.js';
import { fractalAlong } from './fractal.js';

describe('texture asked for along rows', () => {
  for (const [scale, octaves] of [
    [1 / 37, 5],
    [1 / 8, 5],
    [0.7, 3],
    [3.3, 2],
  ])
    it(`is that of single places at a scale of ${scale.toFixed(3)} in ${octaves} octaves, in whatever order`, () => {
      const along = fractalAlong(scale, octaves, 1234);
      const places: [number, number][] = [];
      for (let y = -3.5; y < 6; y++)
        for (let x = -20.5; x < 60; x += Math.abs(x) % 7 < 1 ? 3 : 1) places.push([x, y]);
      places.push([12.5, 4.5], [3.5, 4.5], [4.25, 4.5], [5.5, 4.5], [5.5, 9.25], [13.5, 9.25]);
      for (const [x, y] of places)
        expect(along(x, y)).to.be.closeTo(fractal(x * scale, y * scale, octaves, 1234), 1e-12);
    });

  it('is another one with another seed', () => {
    const [one, other] = [fractalAlong(0.1, 5, 1), fractalAlong(0.1, 5, 2)];
    expect(Math.abs(one(3.5, 3.5) - other(3.5, 3.5))).to.be.greaterThan(1e-3);
  });
});
