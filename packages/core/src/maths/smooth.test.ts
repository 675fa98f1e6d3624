import { expect } from 'chai';
import { slowCourse } from './smooth.js';

const RATE = 25;
const rms = (v: ArrayLike<number>): number =>
  Math.sqrt(Array.from(v).reduce((s, x) => s + x * x, 0) / v.length);
const wave = (hz: number, n = 200): number[] =>
  Array.from({ length: n }, (_, f) => Math.sin((2 * Math.PI * hz * f) / RATE + 0.4));

describe('the slow course of a path', () => {
  it('follows a pan to its ends, and a pan that speeds up', () => {
    const pan = Array.from({ length: 80 }, (_, f) => 3 * f - 0.02 * f * f);
    slowCourse(pan, RATE, 0.7).forEach((v, f) => expect(v).to.be.closeTo(pan[f], 1e-3));
  });

  it('leaves what is faster than a hertz and a half, and takes what is slower than a third of one', () => {
    const left = (hz: number): number => {
      const path = wave(hz);
      const course = slowCourse(path, RATE, 0.7);
      return rms(path.map((v, f) => v - course[f])) / rms(path);
    };
    expect(left(3)).to.be.greaterThan(0.99);
    expect(left(1.6)).to.be.greaterThan(0.95);
    expect(left(0.3)).to.be.lessThan(0.08);
  });

  it('goes on through samples that are not known', () => {
    const path = Array.from({ length: 60 }, (_, f) => 2 * f);
    const holed = path.map((v, f) => (f % 7 === 3 ? NaN : v));
    slowCourse(holed, RATE, 0.7).forEach((v, f) => expect(v).to.be.closeTo(path[f], 1e-2));
  });
});
