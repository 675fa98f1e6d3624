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
    memory.run.movedApart(a + at, b + 4 * (v * WIDTH + u), WIDTH, taps, 16, 8, to + at);
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
