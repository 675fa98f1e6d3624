import { expect } from 'chai';
import { seeded } from '@bevrin/rig';
import type { Plane } from '../../picture/frame.js';
import { EnlargementFinder } from './enlargement.js';

const [WIDTH, HEIGHT] = [480, 270];
const random = seeded(9);
const [COLUMNS, ROWS] = [WIDTH + 8, HEIGHT + 8];
/** Each sample and those beside it, half as much of each: (1 2 1) / 4 both ways. */
const smooth = (from: Float32Array<ArrayBuffer>): Float32Array<ArrayBuffer> => {
  const pass = (of: Float32Array<ArrayBuffer>, step: number): Float32Array<ArrayBuffer> =>
    of.map((v, i) => (2 * v + (of[i - step] ?? v) + (of[i + step] ?? v)) / 4);
  return pass(pass(from, 1), COLUMNS);
};
/** What a lens draws of detail of all sizes: less the finer it is, without a period of its own. */
const drawn = ((): Float32Array => {
  let layer = Float32Array.from({ length: COLUMNS * ROWS }, () => 80 * (random() - 0.5));
  const sum = layer.map((v) => 120 + 0.2 * v);
  for (const passes of [1, 1, 2, 4, 8, 16]) {
    for (let k = 0; k < passes; k++) layer = smooth(layer);
    layer.forEach((v, i) => (sum[i] += v));
  }
  return sum;
})();
const scene = (x: number, y: number): number => drawn[(y + 4) * COLUMNS + x + 4];

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
/** The same of what a sensor behind a mosaic saw of a grey scene, filled in by means of neighbours: green at every other site, red and blue at every fourth. */
const throughMosaic = (scale: number): Plane => {
  const green: Samples = (u, v) =>
    (u + v) % 2 === 0
      ? scene(u, v)
      : (scene(u - 1, v) + scene(u + 1, v) + scene(u, v - 1) + scene(u, v + 1)) / 4;
  const along: Samples = (u, v) => (u % 2 === 0 ? scene(u, v) : (scene(u - 1, v) + scene(u + 1, v)) / 2);
  const red: Samples = (u, v) => (v % 2 === 0 ? along(u, v) : (along(u, v - 1) + along(u, v + 1)) / 2);
  return enlargedFrom(scale, (u, v) => 0.72 * green(u, v) + 0.28 * red(u, v), 1);
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

  it('is the same for six times and for six fifths, however soft the edges are: images of the small picture tell which', () => {
    for (const [small, large] of [
      [1 / 6, 5 / 6],
      [0.2, 0.8],
      [1 / 3, 2 / 3],
    ]) {
      expect(scaleOf(enlargedFrom(small), small), String(small)).to.be.closeTo(small, 0.01);
      for (const soft of [1, 0.6, 0.4])
        expect(scaleOf(enlargedFrom(large), soft * large), `${large}, edges ${soft}`).to.be.closeTo(
          large,
          0.01,
        );
    }
  });

  it('is not needed at half the size and a quarter, where it falls together with a codec’s', () => {
    expect(scaleOf(enlargedFrom(0.5), 0.5)).to.equal(0.5);
    expect(scaleOf(enlargedFrom(0.25), 0.25)).to.equal(0.25);
    expect(scaleOf(enlargedFrom(0.5), 0.95), 'with edges that no small picture can have').to.equal(null);
  });

  it('is not there in a picture at its own size', () => {
    expect(scaleOf(enlargedFrom(1))).to.equal(null);
    expect(scaleOf(throughMosaic(1), 0.5), 'nor where it was filled in from a mosaic').to.equal(null);
  });

  it('is there twice where the picture went through a mosaic, and means the same', () => {
    for (const scale of [0.6, 0.7, 0.8])
      expect(scaleOf(throughMosaic(scale), scale), String(scale)).to.be.closeTo(scale, 0.01);
    // The trace of 0.9 itself is too slow to be seen: that of the mosaic lies where one of 0.55 would.
    expect(scaleOf(throughMosaic(0.9), 0.5)).to.be.closeTo(0.9, 0.01);
  });
});
