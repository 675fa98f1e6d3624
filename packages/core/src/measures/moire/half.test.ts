import { expect } from 'chai';
import type { Plane } from '../../picture/frame.js';
import { finerOf, halfOf } from './half.js';

const wave = (cyclesPerPx: number): Plane => ({
  width: 128,
  height: 96,
  samples: Uint8Array.from({ length: 128 * 96 }, (_, i) =>
    Math.round(120 + 80 * Math.sin(2 * Math.PI * cyclesPerPx * (i % 128))),
  ),
});
/** Half of the swing along the middle row, codes. */
const swing = ({ width, samples }: Plane): number => {
  const row = Array.from(samples.subarray(20 * width + 4, 21 * width - 4), (v) => v / finerOf(8));
  return (Math.max(...row) - Math.min(...row)) / 2;
};

describe('a picture at half its size', () => {
  it('keeps wide patterns and levels', () => {
    const half = halfOf(wave(1 / 28), 8);
    expect([half.width, half.height]).to.deep.equal([64, 48]);
    expect(swing(half)).to.be.closeTo(80, 3);
  });

  it('makes no wide pattern of fine threads', () => {
    expect(swing(halfOf(wave(0.465), 8))).to.be.below(1);
  });

  it('keeps the levels of a plane of sixteen bits', () => {
    const bright = { width: 40, height: 30, samples: new Uint16Array(1200).fill(65000) };
    expect(finerOf(16)).to.equal(1);
    expect(Array.from(halfOf(bright, 16).samples)).to.deep.equal(Array(300).fill(65000));
  });

  it('weighs 1 3 3 1 each way, its last row and column standing for those beyond', () => {
    for (const [width, height] of [
      [23, 17],
      [8, 5],
      [1, 1],
      [9, 2],
    ]) {
      const samples = Uint16Array.from({ length: width * height }, (_, i) => (i * 7919) % 1021);
      expect(Array.from(halfOf({ width, height, samples }, 10).samples)).to.deep.equal(
        halvedPlainly(width, height, samples),
        `${width}×${height}`,
      );
    }
  });
});

const halvedPlainly = (width: number, height: number, samples: Uint16Array): number[] => {
  const at = (x: number, y: number): number =>
    samples[Math.min(height - 1, Math.max(0, y)) * width + Math.min(width - 1, Math.max(0, x))];
  const weights = [1, 3, 3, 1];
  const out: number[] = [];
  for (let y = 0; y < Math.max(1, height >> 1); y++)
    for (let x = 0; x < Math.max(1, width >> 1); x++) {
      let sum = 0;
      for (let v = 0; v < 4; v++)
        for (let u = 0; u < 4; u++) sum += weights[u] * weights[v] * at(2 * x - 1 + u, 2 * y - 1 + v);
      out.push(Math.floor((sum + 4) / 8));
    }
  return out;
};
