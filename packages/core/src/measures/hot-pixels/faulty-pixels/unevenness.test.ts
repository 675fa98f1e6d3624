import { expect } from 'chai';
import { Unevenness } from './unevenness.js';

const [W, H] = [160, 120];
/** A repeatable deviate of about unit variance. */
const deviate = (i: number, seed: number): number => {
  let h = Math.imul(i + 1, 374761393) ^ Math.imul(seed + 1, 668265263);
  let sum = 0;
  for (let k = 0; k < 12; k++) {
    h = Math.imul(h ^ (h >>> 13), 1274126177) + k;
    sum += ((h ^ (h >>> 16)) >>> 0) / 4294967296;
  }
  return sum - 6;
};

describe('the unevenness of a sensor', () => {
  const sigmaOf = (frame: (t: number) => Uint16Array): number => {
    const unevenness = new Unevenness({ width: W, height: H }, 876);
    for (let t = 0; t < 16; t++) unevenness.take(frame(t));
    return unevenness.sigma();
  };
  const picture = (level: (i: number, t: number) => number) => (t: number) =>
    Uint16Array.from({ length: W * H }, (_, i) => level(i, t));

  it('is what stays put in flat places', () => {
    // The contrast with eight neighbours carries an eighth of their own unevenness.
    expect(sigmaOf(picture((i) => 500 + 4 * deviate(i, 1)))).to.be.closeTo(
      (4 / 876) * Math.sqrt(9 / 8),
      0.0009,
    );
  });

  it('is small when the noise changes from frame to frame', () => {
    expect(sigmaOf(picture((i, t) => 500 + 4 * deviate(i, t)))).to.be.lessThan((0.4 * 4) / 876);
  });

  it('is not claimed where nothing is flat', () => {
    expect(sigmaOf(picture((i) => 500 + 200 * Math.sin(i * 2.1)))).to.equal(0);
  });
});
