import { expect } from 'chai';
import { seeded } from '@bevrin/rig';
import type { Plane } from '../../picture/frame.js';
import { EnlargementFinder, scaleBehind } from './enlargement.js';

const [WIDTH, HEIGHT] = [480, 270];
const random = seeded(9);
const grains = Float32Array.from({ length: (WIDTH + 4) * (HEIGHT + 4) }, () => 60 + 120 * random());
/** Texture that runs from sample to sample, without a period of its own. */
const scene = (x: number, y: number): number => {
  const i = (y + 1) * (WIDTH + 4) + x + 1;
  return (2 * grains[i] + grains[i + 1] + grains[i + WIDTH + 4]) / 4;
};

type Samples = (x: number, y: number) => number;

/** A picture whose samples lie between those of one that is smaller: bilinear. */
const enlargedFrom = (scale: number, of: Samples = scene, from = -0.5): Plane => ({
  width: WIDTH,
  height: HEIGHT,
  samples: Uint8Array.from({ length: WIDTH * HEIGHT }, (_, i) => {
    const [x, y] = [((i % WIDTH) + 0.5) * scale + from, (Math.floor(i / WIDTH) + 0.5) * scale + from];
    const [u, v] = [Math.floor(x), Math.floor(y)];
    const mix = (a: number, b: number, k: number): number => a + (b - a) * k;
    return mix(mix(of(u, v), of(u + 1, v), x - u), mix(of(u, v + 1), of(u + 1, v + 1), x - u), y - v);
  }),
});
/** The same through a colour mosaic: every other row and column was made of those beside it before it was enlarged. */
const throughMosaic = (scale: number): Plane => {
  const along: Samples = (u, v) => (u % 2 === 0 ? scene(u, v) : (scene(u - 1, v) + scene(u + 1, v)) / 2);
  return enlargedFrom(
    scale,
    (u, v) => (v % 2 === 0 ? along(u, v) : (along(u, v - 1) + along(u, v + 1)) / 2),
    1,
  );
};
const scaleOf = (plane: Plane, edges = 0.8): number | null => {
  const finder = new EnlargementFinder();
  finder.take(plane);
  return finder.scale(edges);
};

describe('the trace of an interpolation', () => {
  it('tells how much a picture was enlarged', () => {
    expect(scaleOf(enlargedFrom(2 / 3))).to.be.closeTo(2 / 3, 0.01);
    expect(scaleOf(enlargedFrom(0.8))).to.be.closeTo(0.8, 0.01);
  });

  it('is the same for six times and for six fifths: the edges tell which', () => {
    expect(scaleOf(enlargedFrom(1 / 6), 0.22)).to.be.closeTo(1 / 6, 0.01);
    expect(scaleOf(enlargedFrom(5 / 6), 0.75)).to.be.closeTo(5 / 6, 0.01);
    // Edges as they were read of photographs, of the sharpest and the softest that leave a trace.
    const read: [scale: number, frequency: number, edges: readonly number[]][] = [
      [1 / 6, 1 / 6, [0.22, 0.23]],
      [1 / 6, 1 / 3, [0.22, 0.23]],
      [0.2, 0.2, [0.24, 0.3]],
      [1 / 3, 1 / 3, [0.32, 0.49]],
      [0.4, 0.4, [0.39, 0.55]],
      [0.6, 0.4, [0.59, 0.64]],
      [2 / 3, 1 / 3, [0.62, 0.67]],
      [0.7, 0.3, [0.6, 0.72]],
      [5 / 6, 1 / 6, [0.64, 0.75]],
    ];
    for (const [scale, frequency, all] of read)
      for (const edges of all)
        expect(scaleBehind(frequency, edges), `${scale} of edges ${edges}`).to.be.closeTo(scale, 0.01);
  });

  it('is not there in a picture at its own size', () => {
    expect(scaleOf(enlargedFrom(1))).to.equal(null);
  });

  it('is there twice where the picture went through a mosaic, and means the same', () => {
    for (const scale of [0.6, 0.7, 0.8])
      expect(scaleOf(throughMosaic(scale), scale), String(scale)).to.be.closeTo(scale, 0.01);
    // The edges of 0.8 would pass for 0.6, whose trace lies where that of the mosaic does.
    expect(scaleOf(throughMosaic(0.8), 0.66)).to.be.closeTo(0.8, 0.01);
  });
});
