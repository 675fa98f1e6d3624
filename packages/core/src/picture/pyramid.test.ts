import { expect } from 'chai';
import { halve, pyramid, withoutLocalMean, type Level } from './pyramid.js';

const drawn = (width: number, height: number): Level => ({
  width,
  height,
  samples: Float32Array.from(
    { length: width * height },
    (_, i) => 100 + 37 * Math.sin(i * 1.7) + (i % width),
  ),
});

/** The mean of the box about a place, the slow way. */
const boxMean = ({ width, height, samples }: Level, x: number, y: number, radius: number): number => {
  let [sum, count] = [0, 0];
  for (let v = Math.max(0, y - radius); v <= Math.min(height - 1, y + radius); v++)
    for (let u = Math.max(0, x - radius); u <= Math.min(width - 1, x + radius); u++, count++)
      sum += samples[v * width + u];
  return sum / count;
};

describe('pyramids', () => {
  for (const [width, height] of [
    [40, 25],
    [9, 7],
    [3, 30],
    [11, 11],
  ])
    it(`takes the local mean away, up to the edges, at ${width}×${height}`, () => {
      const level = drawn(width, height);
      const found = withoutLocalMean(level, 5);
      // The two passes weigh a box near a corner by its own size, as the slow way does.
      for (let y = 0; y < height; y++)
        for (let x = 0; x < width; x++)
          expect(found.samples[y * width + x]).to.be.closeTo(
            level.samples[y * width + x] - boxMean(level, x, y, 5),
            2e-2,
          );
    });

  it('averages four pixels into one and drops an odd edge', () => {
    const half = halve({
      width: 5,
      height: 3,
      samples: Float32Array.from([1, 2, 3, 4, 9, 5, 6, 7, 8, 9, 0, 0, 0, 0, 0]),
    });
    expect([half.width, half.height, ...half.samples]).to.deep.equal([2, 1, 3.5, 5.5]);
  });

  it('stops before a level gets too small to register', () => {
    const levels = pyramid(drawn(256, 144));
    expect(levels.map((l) => `${l.width}×${l.height}`)).to.deep.equal(['256×144', '128×72', '64×36']);
  });
});
