import { expect } from 'chai';
import type { Level } from '../picture/pyramid.js';
import { prepare, register } from './register.js';
import { normal, seeded } from '@bevrin/rig';
import { WavePicture } from '../../../../tests/support/wave-picture.js';

const [W, H] = [240, 135];
const picture = new WavePicture(7);
const still = picture.seen(W, H);
const shifted = (dx: number, dy: number): Level => picture.seen(W, H, (x, y) => [x - dx, y - dy]);
const between = (a: Level, b: Level) => register(prepare(a), prepare(b));

describe('registration', () => {
  for (const [dx, dy] of [
    [0.3, -0.2],
    [2.37, 1.61],
    [-9.4, 5.2],
    [31.5, -18.25],
  ])
    it(`finds a shift of ${dx}, ${dy} px within 0.03 px`, () => {
      const found = between(still, shifted(dx, dy));
      expect(found?.motion.dx).to.be.closeTo(dx, 0.03);
      expect(found?.motion.dy).to.be.closeTo(dy, 0.03);
    });

  it('finds turn and zoom', () => {
    const [turn, zoom] = [0.008, 0.012];
    const [cx, cy] = [(W - 1) / 2, (H - 1) / 2];
    const det = (1 + zoom) ** 2 + turn ** 2;
    const moved = picture.seen(W, H, (x, y) => [
      cx + ((1 + zoom) * (x - cx) + turn * (y - cy)) / det,
      cy + ((1 + zoom) * (y - cy) - turn * (x - cx)) / det,
    ]);
    const found = between(still, moved);
    expect(found?.motion.turn).to.be.closeTo(turn, 3e-4);
    expect(found?.motion.zoom).to.be.closeTo(zoom, 3e-4);
  });

  it('is not dragged along by a subject that fills a third of the width, nor by a change of light', () => {
    const subject = new WavePicture(91);
    const scene = (t: number): Level => {
      const back = shifted(1.4 * t, -0.6 * t);
      for (let y = 10; y < H; y++)
        for (let x = 80 - 6 * t; x < 160 - 6 * t; x++)
          back.samples[y * W + x] = 24_000 + 3500 * subject.at(x + 6 * t, y);
      return { ...back, samples: back.samples.map((v) => v * (1 + 0.1 * t)) };
    };
    const found = between(scene(0), scene(1));
    expect(found?.motion.dx).to.be.closeTo(1.4, 0.06);
    expect(found?.motion.dy).to.be.closeTo(-0.6, 0.06);
    expect(found?.following).to.be.within(0.3, 0.85);
  });

  it('knows how far off noise lays it: not at all in what is the same, within three times that at an edge under noise', () => {
    expect(between(still, still)?.error).to.be.below(1e-6);
    for (const [sigma, seed] of [
      [100, 3],
      [200, 4],
      [400, 5],
    ]) {
      const random = seeded(seed);
      const noisy = (level: Level): Level => ({
        ...level,
        samples: level.samples.map((v) => v + sigma * normal(random)),
      });
      const found = between(noisy(still), noisy(still))!;
      const { dx, dy, zoom, turn } = found.motion;
      const off = Math.hypot(dx, dy, (W / 2) * zoom, (W / 2) * turn);
      expect(off / found.error, `noise of ${sigma}`).to.be.within(0.1, 3);
    }
  });

  it('says that a blank picture has no motion', () => {
    const blank: Level = { width: W, height: H, samples: new Float32Array(W * H).fill(9000) };
    expect(between(blank, blank)).to.equal(null);
  });
});
