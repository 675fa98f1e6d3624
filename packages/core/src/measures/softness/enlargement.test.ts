import { expect } from 'chai';
import { seeded } from '@bevrin/rig';
import type { Plane } from '../../picture/frame.js';
import { EnlargementFinder } from './enlargement.js';

const [WIDTH, HEIGHT] = [480, 270];
const random = seeded(9);
const grains = Float32Array.from({ length: (WIDTH + 4) * (HEIGHT + 4) }, () => 60 + 120 * random());
/** Texture that runs from sample to sample, without a period of its own. */
const scene = (x: number, y: number): number => {
  const i = (y + 1) * (WIDTH + 4) + x + 1;
  return (2 * grains[i] + grains[i + 1] + grains[i + WIDTH + 4]) / 4;
};

/** A picture whose samples lie between those of one that is smaller: bilinear. */
const enlargedFrom = (scale: number): Plane => ({
  width: WIDTH,
  height: HEIGHT,
  samples: Uint8Array.from({ length: WIDTH * HEIGHT }, (_, i) => {
    const [x, y] = [((i % WIDTH) + 0.5) * scale - 0.5, (Math.floor(i / WIDTH) + 0.5) * scale - 0.5];
    const [u, v] = [Math.floor(x), Math.floor(y)];
    const mix = (a: number, b: number, k: number): number => a + (b - a) * k;
    return mix(
      mix(scene(u, v), scene(u + 1, v), x - u),
      mix(scene(u, v + 1), scene(u + 1, v + 1), x - u),
      y - v,
    );
  }),
});
const scaleOf = (plane: Plane): number | null => {
  const finder = new EnlargementFinder();
  finder.take(plane);
  return finder.scale();
};

describe('the trace of an interpolation', () => {
  it('tells how much a picture was enlarged', () => {
    expect(scaleOf(enlargedFrom(2 / 3))).to.be.closeTo(2 / 3, 0.01);
    expect(scaleOf(enlargedFrom(0.8))).to.be.closeTo(0.8, 0.01);
  });

  it('is not there in a picture at its own size', () => {
    expect(scaleOf(enlargedFrom(1))).to.equal(null);
  });
});
