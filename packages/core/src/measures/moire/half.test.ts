import { expect } from 'chai';
import type { Plane } from '../../picture/frame.js';
import { FINER, Halver } from './half.js';

const wave = (cyclesPerPx: number): Plane => ({
  width: 128,
  height: 96,
  samples: Uint8Array.from({ length: 128 * 96 }, (_, i) =>
    Math.round(120 + 80 * Math.sin(2 * Math.PI * cyclesPerPx * (i % 128))),
  ),
});
/** Half of the swing along the middle row, codes. */
const swing = ({ width, samples }: Plane): number => {
  const row = Array.from(samples.subarray(20 * width + 4, 21 * width - 4), (v) => v / FINER);
  return (Math.max(...row) - Math.min(...row)) / 2;
};

describe('a picture at half its size', () => {
  const halver = new Halver();

  it('keeps wide patterns and levels', () => {
    const half = halver.half(wave(1 / 28));
    expect([half.width, half.height]).to.deep.equal([64, 48]);
    expect(swing(half)).to.be.closeTo(80, 3);
  });

  it('makes no wide pattern of fine threads', () => {
    expect(swing(halver.half(wave(0.465)))).to.be.below(1);
  });
});
