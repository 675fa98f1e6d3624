import { expect } from 'chai';
import { seeded } from '@bevrin/rig';
import { lanczos, TAPS } from '../measures/noise/resample.js';
import { treatmentKernels } from './memory.js';
import { warped } from './warp.js';

const [WIDTH, HEIGHT] = [44, 36];
const values = (seed: number): Float32Array => {
  const random = seeded(seed);
  return Float32Array.from({ length: WIDTH * HEIGHT }, () => 100 + 20 * random());
};

/** Blocks of eight, four apart, without what stands below the limit; the mean of those over each sample. */
const shrunk = (from: Float32Array, weight: Float32Array, noise: number, reach: number): Float64Array => {
  const cosines = Array.from({ length: 8 }, (_, k) =>
    Array.from(
      { length: 8 },
      (_unused, n) => Math.sqrt((k === 0 ? 1 : 2) / 8) * Math.cos((Math.PI * (n + 0.5) * k) / 8),
    ),
  );
  const [sum, share] = [new Float64Array(from.length), new Float64Array(from.length)];
  for (let top = 0; top + 8 <= HEIGHT; top += 4)
    for (let left = 0; left + 8 <= WIDTH; left += 4) {
      const at = (r: number, c: number): number => (top + r) * WIDTH + left + c;
      let seen = 0;
      for (let r = 0; r < 8; r++) seen += weight[at(r, 3)];
      const least = (reach * noise) / Math.sqrt(1 + seen / 8);
      const back = new Float64Array(64);
      let kept = 1;
      for (let u = 0; u < 8; u++)
        for (let v = 0; v < 8; v++) {
          let height = 0;
          for (let r = 0; r < 8; r++)
            for (let c = 0; c < 8; c++) height += cosines[u][r] * cosines[v][c] * from[at(r, c)];
          if (Math.abs(height) >= least) kept++;
          else if (u + v > 0) continue;
          for (let r = 0; r < 8; r++)
            for (let c = 0; c < 8; c++) back[8 * r + c] += height * cosines[u][r] * cosines[v][c];
        }
      for (let r = 0; r < 8; r++)
        for (let c = 0; c < 8; c++) {
          sum[at(r, c)] += back[8 * r + c] / kept;
          share[at(r, c)] += 1 / kept;
        }
    }
  return sum.map((v, i) => v / share[i]);
};

describe('the loops of treatments', () => {
  const memory = treatmentKernels();

  it('take the difference of a block that lies between the samples of another frame', () => {
    const [here, there] = [values(1), values(2)];
    const [x, y, u, v] = [12, 8, 14, 9];
    const [across, down] = [lanczos(0.3), lanczos(0.6)];
    memory.reserve(3 * here.length + 2 * TAPS, 4);
    const [a, b] = [memory.put(here), memory.put(there)];
    const taps = memory.put([...across, ...down]);
    const to = memory.room(here.length);
    const at = 4 * (y * WIDTH + x);
    memory.run.movedApart(a + at, b + 4 * (v * WIDTH + u), WIDTH, taps, taps + 4 * TAPS, 16, 8, to + at);
    const apart = memory.get(to, here.length);
    for (let r = 0; r < 8; r++)
      for (let c = 0; c < 16; c++) {
        let moved = 0;
        for (let j = 0; j < TAPS; j++)
          for (let i = 0; i < TAPS; i++)
            moved += across[i] * down[j] * there[(v + r + j - 2) * WIDTH + u + c + i - 2];
        const place = (y + r) * WIDTH + x + c;
        expect(apart[place]).to.be.closeTo(moved - here[place], 1e-3);
      }
  });

  it('add what is alike in full, what is unlike not at all, and average it with this frame', () => {
    const here = values(3);
    const apart = Float32Array.from(here, (_, i) => (i % WIDTH < 20 ? 0.5 : 40));
    memory.reserve(4 * here.length, 4);
    const [a, d] = [memory.put(here), memory.put(apart)];
    const [sum, weight] = [memory.room(here.length), memory.room(here.length)];
    memory.fill(sum, here.length, 0);
    memory.fill(weight, here.length, 0);
    memory.run.addAlike(d, WIDTH, HEIGHT, 100, 400, sum, weight);
    memory.run.meanOf(a, sum, weight, here.length, a);
    const mean = memory.get(a, here.length);
    for (let y = 1; y < HEIGHT - 1; y++) {
      expect(mean[y * WIDTH + 10] - here[y * WIDTH + 10]).to.be.closeTo(0.25, 1e-4);
      expect(mean[y * WIDTH + 30]).to.equal(here[y * WIDTH + 30]);
    }
  });

  it('take from overlapping blocks what stands no higher than the noise in their cosine transform', () => {
    const from = values(5);
    const weight = values(6).map((v) => Math.abs(v - 100) / 20);
    const [noise, reach] = [12, 2.7];
    memory.reserve(4 * from.length, 4);
    const [f, w] = [memory.put(from), memory.put(weight)];
    const [sum, share] = [memory.room(from.length), memory.room(from.length)];
    memory.fill(sum, from.length, 0);
    memory.fill(share, from.length, 0);
    memory.run.shrinkBlocks(f, w, WIDTH, HEIGHT, noise, reach, sum, share);
    memory.run.blendMean(f, sum, share, 1, from.length, sum);
    const plain = shrunk(from, weight, noise, reach);
    const made = memory.get(sum, from.length);
    let changed = 0;
    for (const [i, value] of made.entries()) {
      expect(value, `${i}`).to.be.closeTo(plain[i], 2e-3);
      if (Math.abs(value - from[i]) > 1) changed++;
    }
    expect(changed, 'there was something to take').to.be.above(from.length / 3);
  });

  it('round to the nearest code, cut off what no code stands for, and mix the original in', () => {
    const mean = Float32Array.from([-3, 0.4, 0.6, 99.5, 254.4, 300, 100, 7.49]);
    const here = Float32Array.from(mean, (v) => v + 10);
    memory.reserve(3 * mean.length, 3);
    const [m, h] = [memory.put(mean), memory.put(here)];
    const to = memory.room(mean.length);
    memory.run.toCodes(m, h, 0, 255, mean.length, 0, to);
    expect([...memory.getBytes(to, mean.length)]).to.deep.equal([0, 0, 1, 100, 254, 255, 100, 7]);
    memory.run.toCodes(m, h, 0.25, 1023, mean.length, 1, to);
    expect([...memory.getWords(to, mean.length)]).to.deep.equal([0, 3, 3, 102, 257, 303, 103, 10]);
  });

  it('read a row along a slanted line between samples, going on beyond the edges as the picture ends', () => {
    const samples = values(4);
    const clamped = (x: number, y: number): number =>
      samples[Math.max(0, Math.min(HEIGHT - 1, y)) * WIDTH + Math.max(0, Math.min(WIDTH - 1, x))];
    const picture = { planes: [{ width: WIDTH, height: HEIGHT, samples: Uint16Array.from(samples) }] };
    const [x0, y0, dx, dy] = [-0.75, 3.25, 1.01, 0.125];
    const { planes } = warped(
      picture,
      (_row, place) => Object.assign(place, { x: x0, y: y0, dx, dy }),
      [1023],
      'edge',
    );
    for (let u = 0; u < WIDTH; u++) {
      const [x, y] = [x0 + dx * u, y0 + dy * u];
      const [ix, iy] = [Math.floor(x), Math.floor(y)];
      const [across, down] = [lanczos(x - ix), lanczos(y - iy)];
      let sum = 0;
      for (let r = 0; r < TAPS; r++)
        for (let c = 0; c < TAPS; c++)
          sum += down[r] * across[c] * Math.floor(clamped(ix + c - 2, iy + r - 2));
      expect(planes[0].samples[u], `${u}`).to.be.closeTo(sum, 0.6);
    }
  });
});
