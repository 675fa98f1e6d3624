import { expect } from 'chai';
import { fractal } from '@bevrin/rig';
import type { Plane } from '../picture/frame.js';
import { ScanFinder, type ScanSeen } from './scan.js';

const [WIDTH, HEIGHT] = [320, 240];
/** A textured scene that the camera carries across, px a frame. */
const SPEED = 5;
const sceneAt = (x: number, y: number): number => 60 + 130 * fractal(x / 14, y / 14, 3, 5);

/** A frame whose even and odd rows were exposed at an instant each, frame intervals. */
const frameAt = (even: number, odd: number): Plane => ({
  width: WIDTH,
  height: HEIGHT,
  samples: Uint8Array.from({ length: WIDTH * HEIGHT }, (_, i) => {
    const y = Math.floor(i / WIDTH);
    return sceneAt((i % WIDTH) + SPEED * (y % 2 === 0 ? even : odd), y);
  }),
});

const seen = (at: (frame: number) => readonly [number, number]): ScanSeen | null => {
  const finder = new ScanFinder(219);
  for (const pair of [0, 10, 20])
    for (const f of [pair, pair + 1]) {
      const [even, odd] = at(f);
      finder.take(frameAt(even, odd), f);
    }
  return finder.finish();
};

describe('the scan of a picture', () => {
  it('is told from its rows: whole frames, and fields in either order', () => {
    expect(seen((f) => [f, f])).to.deep.equal({ scan: 'progressive', fieldOrder: null });
    expect(seen((f) => [f, f + 0.5])).to.deep.equal({ scan: 'interlaced', fieldOrder: 'top' });
    expect(seen((f) => [f + 0.5, f])).to.deep.equal({ scan: 'interlaced', fieldOrder: 'bottom' });
  });

  it('is not told where nothing moves', () => {
    expect(seen(() => [0, 0])).to.equal(null);
  });
});
