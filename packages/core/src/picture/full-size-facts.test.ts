import { expect } from 'chai';
import type { Frame } from './frame.js';
import { FullSizeFacts } from './full-size-facts.js';

const [WIDTH, HEIGHT] = [320, 180];
const frame = (index: number, code: (x: number, y: number) => number, deep = false): Frame => {
  const codes = Array.from({ length: WIDTH * HEIGHT }, (_, i) => code(i % WIDTH, Math.floor(i / WIDTH)));
  const samples = deep ? Uint16Array.from(codes) : Uint8Array.from(codes);
  return { view: 'burst', index, planes: [{ width: WIDTH, height: HEIGHT, samples }] };
};
const levelOf = (
  clip: { bitDepth: number; range: 'limited' | 'full' },
  ...frames: readonly Frame[]
): number | null => {
  const facts = new FullSizeFacts(clip);
  for (const f of frames) facts.take(f);
  return facts.finish().meanLumaPct;
};
const LIMITED = { bitDepth: 8, range: 'limited' } as const;

describe('the mean level of a clip', () => {
  it('is nothing at black, all at white, and below nothing beneath black, at every depth and range', () => {
    expect(
      levelOf(
        LIMITED,
        frame(0, () => 16),
      ),
    ).to.equal(0);
    expect(
      levelOf(
        LIMITED,
        frame(0, () => 235),
      ),
    ).to.equal(100);
    expect(
      levelOf(
        LIMITED,
        frame(0, () => 5),
      ),
    ).to.be.closeTo(-5, 0.1);
    expect(
      levelOf(
        { bitDepth: 10, range: 'limited' },
        frame(0, () => 502, true),
      ),
    ).to.equal(50);
    expect(
      levelOf(
        { bitDepth: 8, range: 'full' },
        frame(0, () => 51),
      ),
    ).to.equal(20);
  });

  it('is the mean over the picture and over the frames that were seen', () => {
    const half = frame(0, (x) => (x < WIDTH / 2 ? 16 : 235));
    expect(levelOf(LIMITED, half)).to.be.closeTo(50, 0.5);
    expect(
      levelOf(
        LIMITED,
        half,
        frame(1, () => 235),
      ),
    ).to.be.closeTo(75, 0.5);
  });

  it('is not told where no frame was seen full size', () => {
    expect(levelOf(LIMITED)).to.equal(null);
  });
});
