import { expect } from 'chai';
import FFT from 'fft.js';
import { seeded } from '@bevrin/rig';
import { PairSpectrum } from '../maths/fft2.js';
import { hann } from '../maths/hann.js';
import { constantOf, kernels } from './kernels.js';
import { SLOTS } from './memory.js';

const WIDTH = 57;
const HEIGHT = 41;
const values = (count: number, seed: number, scale = 1): Float32Array => {
  const random = seeded(seed);
  return Float32Array.from({ length: count }, () => scale * (0.2 + random()));
};

describe('kernels for small frames', () => {
  it('keep as many pictures as there are slots for, the last ones asked for, whatever else is put in', () => {
    const pictures = Array.from({ length: SLOTS + 2 }, (_, k) => new Float32Array(500).fill(k + 1));
    const at = pictures.slice(0, SLOTS).map((p) => kernels.keep(p));
    kernels.reserve(2000, 1);
    kernels.put(new Float32Array(2000).fill(99));
    expect(at.map((a) => kernels.get(a, 500)[499])).to.deep.equal(
      Array.from({ length: SLOTS }, (_, k) => k + 1),
    );
    expect(kernels.keep(pictures[0])).to.equal(at[0]);
    expect(kernels.put(pictures[1])).to.equal(at[1]);
    // The second was put in, not asked to be kept: its slot is the next to go.
    expect(kernels.keep(pictures[SLOTS])).to.equal(at[1]);
    expect(kernels.keep(pictures[SLOTS + 1])).to.equal(at[2]);
    expect(kernels.get(kernels.keep(pictures[1]), 500)[0]).to.equal(2);
    const larger = new Float32Array(9000).fill(7);
    const [there] = [kernels.keep(larger)];
    kernels.reserve(100, 1);
    kernels.put(new Float32Array(100).fill(3));
    expect(kernels.get(there, 9000).every((v) => v === 7)).to.equal(true);
    expect(kernels.get(kernels.keep(pictures[0]), 500)[0]).to.equal(1);
  });

  it('look light up by code, and leave out what is dark, clipped or masked', () => {
    const picture = Float32Array.from([5000.7, 300, 40000, 20000, 65535]);
    const detail = Float32Array.from([100, -200, 5000, 0, 0]);
    const table = Float32Array.from({ length: 65536 }, (_, code) => (code > 60000 ? NaN : code / 65535));
    kernels.reserve(5 + 5 + 5 + 65536 + 5, 5);
    const [from, free] = [kernels.put(picture), kernels.put(detail)];
    const leftOut = kernels.putBytes(Uint8Array.from([0, 0, 0, 1, 0]));
    const [lights, to] = [kernels.put(table), kernels.room(5)];
    const seen = (masked: number): number[] => {
      kernels.run.lightOf(from, free, masked, lights, 1000, 5, to);
      return Array.from(kernels.get(to, 5));
    };
    const [first, third, fourth] = [5000, 40000, 20000].map((code) => Math.fround(code / 65535));
    expect(seen(leftOut)).to.deep.equal([first, NaN, third, NaN, NaN]);
    expect(seen(0)).to.deep.equal([first, NaN, third, fourth, NaN]);
  });

  for (const [dx, dy, zoom, turn] of [
    [0, 0, 0, 0],
    [1.3, -2.6, 0.002, 0.003],
    [-30.2, 12.5, -0.004, -0.002],
  ])
    it(`sum the light of tiles under a motion of ${dx}, ${dy} as it is summed pixel by pixel`, () => {
      const [before, after] = [values(WIDTH * HEIGHT, 5), values(WIDTH * HEIGHT, 6)];
      for (let i = 0; i < before.length; i += 13) before[i] = NaN;
      const [bands, columns] = [5, 3];
      kernels.reserve(2 * before.length + 8 * bands * columns, 3);
      const sums = kernels.room(8 * bands * columns);
      const [a, b] = [kernels.put(before), kernels.put(after)];
      kernels.run.tileLight(a, b, WIDTH, HEIGHT, bands, columns, dx, dy, zoom, turn, sums);
      const found = kernels.getDoubles(sums, 4 * bands * columns);
      const plain = new Float64Array(4 * bands * columns);
      for (let y = 0; y < HEIGHT; y++)
        for (let x = 0; x < WIDTH; x++) {
          const tile = Math.floor((y * bands) / HEIGHT) * columns + Math.floor((x * columns) / WIDTH);
          plain[4 * tile + 3]++;
          const px = x + dx + zoom * (x - (WIDTH - 1) / 2) - turn * (y - (HEIGHT - 1) / 2);
          const py = y + dy + turn * (x - (WIDTH - 1) / 2) + zoom * (y - (HEIGHT - 1) / 2);
          if (px < 0 || py < 0 || px >= WIDTH - 1 || py >= HEIGHT - 1) continue;
          const [ix, iy] = [Math.floor(px), Math.floor(py)];
          const at = (u: number, v: number): number => after[(iy + v) * WIDTH + ix + u];
          const top = at(0, 0) + (at(1, 0) - at(0, 0)) * (px - ix);
          const bottom = at(0, 1) + (at(1, 1) - at(0, 1)) * (px - ix);
          const light = top + (bottom - top) * (py - iy);
          const here = before[y * WIDTH + x];
          if (!(light < 2 * here && here < 2 * light)) continue;
          plain[4 * tile] += here;
          plain[4 * tile + 1] += light;
          plain[4 * tile + 2]++;
        }
      plain.forEach((v, i) => {
        // A pixel just at a limit may fall to either side in single precision.
        if (i % 4 === 3) expect(found[i]).to.equal(v);
        else expect(found[i]).to.be.closeTo(v, 0.01 * v + 1.5);
      });
    });

  it('count what supports a motion: the tiles that it puts where they were found, each by its own measure', () => {
    const vote = constantOf('VOTE');
    const votes = Float64Array.from(values(vote * 40, 12), (v, i) => (i % vote === 3 ? v - 0.7 : v));
    kernels.reserve(2 * votes.length, 1);
    const at = kernels.putDoubles(votes);
    for (const [x, y] of [
      [0.7, 0.7],
      [0.2, 1.1],
      [3, 3],
    ]) {
      let sum = 0;
      for (let o = 0; o < votes.length; o += vote) {
        const [dx, dy, xx, xy, yy, weight] = votes.subarray(o, o + vote);
        const [rx, ry] = [dx - x, dy - y];
        if (xx * rx * rx + xy * rx * ry + yy * ry * ry <= 0.09) sum += weight;
      }
      expect(kernels.run.supportOf(at, 40, x, y, 0.09)).to.be.closeTo(sum, 1e-9);
      expect(sum > 0).to.equal(x < 3);
    }
  });

  it('sum squared gradients of squares over every other row and column', () => {
    const side = constantOf('SQUARE');
    const picture = values(WIDTH * HEIGHT, 9, 100);
    const [columns, rows] = [Math.floor((WIDTH - 4) / side), Math.floor((HEIGHT - 4) / side)];
    const count = columns * rows;
    kernels.reserve(picture.length + 3 * count, 4);
    const from = kernels.put(picture);
    const [xx, xy, yy] = [kernels.room(count), kernels.room(count), kernels.room(count)];
    kernels.run.squareGradients(from, WIDTH, columns, rows, xx, xy, yy);
    for (let o = 0; o < count; o++) {
      const [left, top] = [2 + (o % columns) * side, 2 + Math.floor(o / columns) * side];
      const plain = [0, 0, 0];
      for (let v = 0; v < side; v += 2)
        for (let u = 0; u < side; u += 2) {
          const i = (top + v) * WIDTH + left + u;
          const gx = picture[i + 1] - picture[i - 1];
          const gy = picture[i + WIDTH] - picture[i - WIDTH];
          [gx * gx, gx * gy, gy * gy].forEach((product, k) => (plain[k] += product));
        }
      [xx, xy, yy].forEach((address, k) =>
        expect(kernels.get(address, count)[o]).to.be.closeTo(plain[k], 1e-5 * (plain[0] + plain[2])),
      );
    }
  });

  for (const size of [4, 16, 64])
    it(`transform two pictures of ${size}×${size} at once as a plain transform does each`, () => {
      const [a, b] = [values(90 * 80, 3, 50), values(90 * 80, 4, 50)];
      const spectrum = new PairSpectrum(size);
      spectrum.take({ width: 90, samples: a }, { width: 90, samples: b }, 5, 7, 2);
      const [first, second] = [plainly(a, size), plainly(b, size)];
      const scale = size * size;
      for (let v = 0; v < size; v++)
        for (let u = 0; u < size; u++) {
          const [p, q] = [first(u, v), second(u, v)];
          const [ours, theirs] = [spectrum.first(u, v), spectrum.second(u, v)];
          expect(ours.re).to.be.closeTo(p.re, 1e-4 * scale);
          expect(ours.im).to.be.closeTo(p.im, 1e-4 * scale);
          expect(theirs.re).to.be.closeTo(q.re, 1e-4 * scale);
          expect(theirs.im).to.be.closeTo(q.im, 1e-4 * scale);
          const power = p.re ** 2 + p.im ** 2 + q.re ** 2 + q.im ** 2;
          expect(spectrum.power(u, v)).to.be.closeTo(power, 1e-4 * (power + scale));
        }
    });
});

/** The spectrum of the window at 5, 7 of a picture 90 wide, doubled, by a library's transform of rows and then of columns. */
const plainly = (
  samples: Float32Array,
  size: number,
): ((u: number, v: number) => { re: number; im: number }) => {
  const window = hann(size);
  const fft = new FFT(size);
  const read = (x: number, y: number): number => samples[(7 + y) * 90 + 5 + x];
  let mean = 0;
  for (let y = 0; y < size; y++) for (let x = 0; x < size; x++) mean += read(x, y) / (size * size);
  const rows = Array.from({ length: size }, (_, y) => {
    const line = fft.createComplexArray().fill(0);
    for (let x = 0; x < size; x++) line[2 * x] = 2 * (read(x, y) - mean) * window[x] * window[y];
    const out = fft.createComplexArray();
    fft.transform(out, line);
    return out;
  });
  const columns = Array.from({ length: size }, (_, u) => {
    const line = rows.flatMap((row) => [row[2 * u], row[2 * u + 1]]);
    const out = fft.createComplexArray();
    fft.transform(out, line);
    return out;
  });
  return (u, v) => ({ re: columns[u][2 * v], im: columns[u][2 * v + 1] });
};
