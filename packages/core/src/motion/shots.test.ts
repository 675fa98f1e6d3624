import { expect } from 'chai';
import type { Level } from '../picture/pyramid.js';
import { ShotFinder } from './shots.js';
import { WavePicture } from '../../../../tests/support/wave-picture.js';

const [W, H] = [96, 54];
const first = new WavePicture(3);
const second = new WavePicture(44);
const lit = (level: Level, light: number): Level => ({
  ...level,
  samples: level.samples.map((v) => v * light),
});
const shotsOf = (frames: readonly Level[]) => {
  const finder = new ShotFinder();
  frames.forEach((f) => finder.take(f));
  return finder.finish();
};
const drift = (picture: WavePicture, count: number, speed = 0.3): Level[] =>
  Array.from({ length: count }, (_, t) => picture.seen(W, H, (x, y) => [3 * (x - speed * t), 3 * y]));

describe('shots', function () {
  this.timeout(20_000);
  it('parts a clip at a hard cut and nowhere else', () => {
    const shots = shotsOf([...drift(first, 20), ...drift(second, 20)]);
    expect(shots).to.deep.equal([
      { startFrame: 0, endFrame: 19 },
      { startFrame: 20, endFrame: 39 },
    ]);
  });

  it('takes neither a flash, nor flicker, nor a fade to black, nor a fast pan for a cut', () => {
    const calm = drift(first, 30);
    expect(shotsOf(calm.map((f, t) => lit(f, t === 12 ? 2.2 : 1))), 'flash').to.have.length(1);
    expect(shotsOf(calm.map((f, t) => lit(f, 1 + 0.3 * Math.sin(t)))), 'flicker').to.have.length(1);
    expect(shotsOf(calm.map((f, t) => lit(f, Math.max(0, 1 - t / 20)))), 'fade').to.have.length(1);
    expect(shotsOf(drift(first, 30, 4)), 'pan').to.have.length(1);
  });

  it('keeps a single frame as one shot', () => {
    expect(shotsOf(drift(first, 1))).to.deep.equal([{ startFrame: 0, endFrame: 0 }]);
  });
});
