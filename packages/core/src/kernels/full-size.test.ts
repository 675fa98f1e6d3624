import { expect } from 'chai';
import { seeded } from '@bevrin/rig';
import { newTally, tallyImpulses } from '../measures/hot-pixels/faulty-pixels/impulses.js';
import { BLOCK } from '../measures/noise/pair.js';
import { lanczos, TAPS } from '../measures/noise/resample.js';
import type { Plane } from '../picture/frame.js';
import { kernels } from './kernels.js';

const WIDTH = 83;
const HEIGHT = 47;

/** A slope with noise on it; few levels, so that neighbours are often alike. */
const noisy = (seed: number, top: number, levels: number): Plane => {
  const random = seeded(seed);
  const samples = Uint16Array.from({ length: WIDTH * HEIGHT }, (_, i) =>
    Math.round((0.1 + (0.5 * (i % WIDTH)) / WIDTH + (0.4 * Math.floor(random() * levels)) / levels) * top),
  );
  return { width: WIDTH, height: HEIGHT, samples };
};

/** What `tallyImpulses` counts, pixel by pixel. */
const impulsesPlainly = ({ width, height, samples: s }: Plane, threshold: number): number[] => {
  const found: number[] = [];
  for (let y = 2; y < height - 2; y++)
    for (let x = 2; x < width - 2; x++) {
      const at = (u: number, v: number): number => s[(y + v) * width + x + u];
      const ring: [number, number][] = [];
      for (let v = -2; v <= 2; v += 2) for (let u = -2; u <= 2; u += 2) if (u || v) ring.push([u, v]);
      const contrast = at(0, 0) - ring.reduce((sum, [u, v]) => sum + at(u, v), 0) / 8;
      const sign = Math.sign(contrast);
      const near: number[] = [];
      for (let v = -1; v <= 1; v++) for (let u = -1; u <= 1; u++) near.push(sign * at(u, v));
      const along = sign * (2 * at(0, 0) - at(-2, 0) - at(2, 0));
      if (sign * contrast >= threshold && along >= 0.6 * threshold && near.every((v) => v <= sign * at(0, 0)))
        found.push(sign * (y * width + x));
    }
  return found;
};

describe('kernels for full-size frames', () => {
  for (const [top, levels, threshold] of [
    [255, 256, 40],
    [255, 6, 20],
    [1023, 300, 150],
    [65535, 5000, 9000],
    [65535, 7, 1],
  ])
    it(`find the impulses above ${threshold} of ${levels} levels up to ${top} that are found plainly`, () => {
      const plane = noisy(3 + levels, top, levels);
      const tally = newTally(WIDTH, HEIGHT);
      const found: number[] = [];
      tallyImpulses(plane, threshold, tally, (i, contrast) => found.push(Math.sign(contrast) * i));
      const plain = impulsesPlainly(plane, threshold);
      expect(plain.length).to.be.greaterThan(20);
      expect(found).to.deep.equal(plain);
      for (const i of plain) expect((i > 0 ? tally.above : tally.below)[Math.abs(i)]).to.equal(1);
    });

  it('sum a block by rows, by cells and by what is clipped', () => {
    const [a, b] = [noisy(1, 255, 256), noisy(2, 255, 256)];
    const [x, y, u, v] = [11, 7, 14, 9];
    kernels.reserve(WIDTH * HEIGHT + 64, 3);
    const [first, second] = [kernels.putWords(a.samples), kernels.putWords(b.samples)];
    const out = kernels.room(64);
    kernels.run.blockSums(
      first + 2 * (y * WIDTH + x),
      WIDTH,
      second + 2 * (v * WIDTH + u),
      WIDTH,
      40,
      90,
      out,
    );
    const block = (plane: Plane, left: number, top: number): number[][] =>
      Array.from({ length: BLOCK }, (_, r) =>
        Array.from({ length: BLOCK }, (_, c) => plane.samples[(top + r) * WIDTH + left + c]),
      );
    const [p, q] = [block(a, x, y), block(b, u, v)];
    const sum = (values: number[]): number => values.reduce((total, value) => total + value, 0);
    const cells = Array.from({ length: 16 }, (_, cell) => {
      const [row, column] = [4 * (cell >> 2), 4 * (cell % 4)];
      return sum(
        [p, q].flatMap((rows) => rows.slice(row, row + 4).flatMap((r) => r.slice(column, column + 4))),
      );
    });
    const clipped = [...p, ...q].flat().filter((s) => s <= 40 || s >= 90).length;
    expect(Array.from(kernels.viewWholes(out, 1 + 2 * BLOCK + 16))).to.deep.equal([
      clipped,
      ...p.map(sum),
      ...q.map(sum),
      ...cells,
    ]);
  });

  for (const [width, height] of [
    [16, 16],
    [8, 16],
    [8, 8],
    [4, 16],
  ])
    it(`take the difference of a block of ${width}×${height} that lies between samples`, () => {
      const [a, b] = [noisy(4, 1023, 900), noisy(5, 1023, 900)];
      const [x, y, u, v] = [9, 6, 12, 8];
      const [tapsX, tapsY] = [lanczos(0.3), lanczos(0.85)];
      const gains = Float32Array.from({ length: height }, (_, r) => 1 + 0.01 * r);
      kernels.reserve(WIDTH * HEIGHT + 2 * TAPS + height + 2 * width * height, 5);
      const [first, second] = [kernels.putWords(a.samples), kernels.putWords(b.samples)];
      const taps = kernels.put([...tapsX, ...tapsY]);
      const [light, out] = [kernels.put(gains), kernels.room(2 * width * height)];
      const [p, q] = [first + 2 * (y * WIDTH + x), second + 2 * (v * WIDTH + u)];
      kernels.run.movedDifference(p, WIDTH, q, WIDTH, taps, light, width, height, 64, 0.1, out);
      const found = new Float64Array(width * height);
      kernels.copyDoubles(out, found.length, found);
      for (let r = 0; r < height; r++)
        for (let c = 0; c < width; c++) {
          let moved = 0;
          for (let j = 0; j < TAPS; j++)
            for (let i = 0; i < TAPS; i++)
              moved += tapsX[i] * tapsY[j] * b.samples[(v + r + j - 2) * WIDTH + u + c + i - 2];
          const here = a.samples[(y + r) * WIDTH + x + c];
          expect(found[r * width + c]).to.be.closeTo(0.1 * ((moved - 64) * gains[r] - (here - 64)), 1e-3);
        }
    });
});
