import { expect } from 'chai';
import type { Level } from '../picture/pyramid.js';
import { ShotFinder } from './shots.js';
import { WavePicture } from '../../../../tests/support/wave-picture.js';

const [W, H] = [64, 36];
/** How far apart its pixels lie in the picture of waves. */
const SPREAD = 4.5;
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
  Array.from({ length: count }, (_, t) =>
    picture.seen(W, H, (x, y) => [SPREAD * (x - speed * t), SPREAD * y]),
  );

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

  /** Two pictures, the first dissolved into the second from a frame on. */
  const dissolved = (from: number, over: number, one: readonly Level[], other: readonly Level[]): Level[] =>
    one.map((level, t) => {
      const share = Math.min(1, Math.max(0, (t - from + 1) / (over + 1)));
      return {
        ...level,
        samples: level.samples.map((v, i) => (1 - share) * v + share * other[t].samples[i]),
      };
    });

  for (const [what, over, speed] of [
    ['half a second, held', 12, 0],
    ['a quarter of a second, by hand', 6, 0.3],
    ['a second, both pictures drifting', 25, 0.2],
  ] as const)
    it(`leaves a dissolve of ${what}, to neither of its shots`, () => {
      const shots = shotsOf(dissolved(20, over, drift(first, 60, speed), drift(second, 60, speed)));
      expect(shots).to.have.length(2);
      expect(shots[0].startFrame).to.equal(0);
      expect(shots[0].endFrame, 'its first frame').to.be.closeTo(19, 2);
      expect(shots[1].startFrame, 'its last frame').to.be.closeTo(20 + over, 2);
      expect(shots[1].endFrame).to.equal(59);
    });

  it('parts a clip at cuts before and after a dissolve, too', () => {
    const third = new WavePicture(71);
    const shots = shotsOf([
      ...drift(third, 16),
      ...dissolved(14, 10, drift(first, 40), drift(second, 40)),
      ...drift(third, 16),
    ]);
    expect(shots.map((s) => s.startFrame)).to.have.length(4);
    expect(shots[1].startFrame).to.equal(16);
    expect(shots[2].startFrame).to.be.closeTo(40, 2);
    expect(shots[3].startFrame).to.equal(56);
  });

  it('takes neither what crosses the picture, nor a pan to another place, for a dissolve', () => {
    // A curtain of another pattern is drawn across: at each place one of them shows, never both.
    const [calm, curtain] = [drift(first, 40), drift(second, 40)];
    const drawn = calm.map((level, t) => ({
      ...level,
      samples: level.samples.map((v, i) => (i % W < ((t - 12) * W) / 20 ? curtain[t].samples[i] : v)),
    }));
    expect(shotsOf(drawn).every((s, i, all) => i === 0 || s.startFrame === all[i - 1].endFrame + 1)).to.be
      .true;
    for (const speed of [1 / 3, 2 / 3, 4 / 3, 2])
      expect(shotsOf(drift(first, 60, speed)), `${speed}`).to.have.length(1);
  });

  it('keeps a single frame as one shot', () => {
    expect(shotsOf(drift(first, 1))).to.deep.equal([{ startFrame: 0, endFrame: 0 }]);
  });
});
