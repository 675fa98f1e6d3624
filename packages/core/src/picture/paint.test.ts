import { expect } from 'chai';
import type { Plane } from './frame.js';
import { paint, tableOf } from './paint.js';
import { transformOf } from './viewing.js';

const facts = { bitDepth: 8, range: 'limited', matrix: 'bt709' } as const;
const plane = (width: number, height: number, of: (x: number, y: number) => number): Plane => {
  const samples = new Uint8Array(width * height);
  for (let y = 0; y < height; y++) for (let x = 0; x < width; x++) samples[y * width + x] = of(x, y);
  return { width, height, samples };
};
const painted = (
  planes: readonly Plane[],
  shown: Parameters<typeof paint>[2],
  table: Float32Array | null = null,
): Uint8ClampedArray => {
  const out = new Uint8ClampedArray(4 * planes[0].width * planes[0].height);
  paint(planes, facts, shown, table, out);
  return out;
};

describe('painting', () => {
  const luma = plane(8, 4, (x) => 16 + 27 * x);
  const none = plane(4, 2, () => 128);

  it('shows black as 0, white as 255, and no colour as grey', () => {
    const ends = plane(2, 1, (x) => (x === 0 ? 16 : 235));
    const grey = plane(1, 1, () => 128);
    expect([...painted([ends, grey, grey], 'colour')]).to.deep.equal([0, 0, 0, 255, 255, 255, 255, 255]);
    expect([...painted([ends], 'colour')]).to.deep.equal([0, 0, 0, 255, 255, 255, 255, 255]);
    expect(painted([ends, grey, grey], 'cb')[0]).to.be.within(127, 128);
  });

  it('shows stored chroma sample by sample, and smooth between samples in the colours', () => {
    const cr = plane(4, 2, (x) => 100 + 20 * x);
    const stored = painted([luma, none, cr], 'cr');
    expect(stored[0], 'a sample covers two pixels').to.equal(stored[4]);
    expect(stored[8]).to.be.greaterThan(stored[4]);
    const flat = plane(8, 4, () => 120);
    const red = painted([flat, none, cr], 'red');
    expect(red[4]).to.be.closeTo((red[0] + red[8]) / 2, 1);
  });

  it('cuts off what lies beyond black and white', () => {
    const beyond = plane(2, 1, (x) => (x === 0 ? 4 : 254));
    expect([...painted([beyond], 'luma')].filter((_, i) => i % 4 !== 3)).to.deep.equal([
      0, 0, 0, 255, 255, 255,
    ]);
  });

  it('goes through a viewing transform as the transform itself does', () => {
    const lift = transformOf({ kind: 'liftGain', lift: 0.1, gain: 1.4 }, 'bt709');
    const through = painted([luma, none, none], 'colour', tableOf(lift));
    for (let x = 0; x < 8; x++) {
      const v = (27 * x) / 219;
      expect(through[4 * x]).to.be.closeTo(255 * lift([v, v, v])[0], 2);
    }
  });

  it('keeps a table of many colours within two codes of the transform', () => {
    const swap = ([r, g, b]: readonly [number, number, number]): [number, number, number] => [b * r, g, r];
    const cb = plane(4, 2, (x) => 90 + 25 * x);
    const out = painted([luma, cb, none], 'colour', tableOf(swap));
    const plain = painted([luma, cb, none], 'colour');
    for (let i = 0; i < out.length; i += 4) {
      const wanted = swap([plain[i] / 255, plain[i + 1] / 255, plain[i + 2] / 255]);
      wanted.forEach((v, c) => expect(out[i + c]).to.be.closeTo(255 * v, 2.5));
    }
  });
});
