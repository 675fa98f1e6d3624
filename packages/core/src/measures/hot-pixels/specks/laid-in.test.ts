import { expect } from 'chai';
import { AT_ONCE, foundAgain, withSpecksLaidIn } from './laid-in.js';

const [width, height, margin] = [320, 180, 11];
/** Dark on the left, light on the right. */
const ground = (x: number): number => (x < width / 2 ? 12000 : 48000);
const level = {
  width,
  height,
  samples: Float32Array.from({ length: width * height }, (_, i) => ground(i % width)),
};
const SEEN = [
  { contrast: 9000, ground: 12000, pixels: 5 },
  { contrast: 9000, ground: 13000, pixels: 5 },
  ...Array.from({ length: 5 }, () => ({ contrast: -20000, ground: 47000, pixels: 9 })),
  ...Array.from({ length: 3 }, () => ({ contrast: 9000, ground: 11000, pixels: 5 })),
];

describe('specks that are laid in', () => {
  const { level: after, places } = withSpecksLaidIn(level, SEEN, 0, margin);
  const apart = (x: number, y: number): number => after.samples[y * width + x] - level.samples[y * width + x];

  it('look like those that were found on such ground: light on dark, dark on light', () => {
    expect(places).to.have.length(AT_ONCE);
    const inside = places.filter(({ x }) => Math.abs(x - width / 2) > 4);
    expect(new Set(inside.map(({ x }) => x < width / 2)).size).to.equal(2);
    for (const { x, y } of inside) expect(apart(x, y)).to.be.closeTo(x < width / 2 ? 9000 : -20000, 1);
  });

  it('cover as much as those, and change nothing else; the frame that was given stays', () => {
    const changed = after.samples.filter((v, i) => Math.abs(v - level.samples[i]) > 4000).length;
    expect(changed).to.be.within(5 * AT_ONCE, 10 * AT_ONCE);
    expect(level.samples.every((v, i) => v === ground(i % width))).to.equal(true);
  });

  it('lie away from the edges and from each other, and nowhere twice', () => {
    const later = withSpecksLaidIn(level, SEEN, AT_ONCE, margin).places;
    for (const [i, { x, y }] of places.entries()) {
      expect(x).to.be.within(margin, width - 1 - margin);
      expect(y).to.be.within(margin, height - 1 - margin);
      for (const other of places.slice(i + 1))
        expect(Math.hypot(other.x - x, other.y - y)).to.be.greaterThan(20);
      for (const other of later) expect(Math.hypot(other.x - x, other.y - y)).to.be.greaterThan(4);
    }
  });

  it('lie nowhere where the picture is left out, and large ones end at its edges', () => {
    const leftOut = Uint8Array.from(level.samples, (_, i) => (i % width < width / 2 ? 1 : 0));
    const large = [{ contrast: -20000, ground: 47000, pixels: 3000 }];
    const there = withSpecksLaidIn(level, large, 0, margin, leftOut);
    expect(there.places.length).to.be.within(1, AT_ONCE - 1);
    for (const { x } of there.places) expect(x).to.be.at.least(width / 2);
    // A disc of 3000 pixels reaches 31 to each side: none wraps round to the next row.
    const least = Math.min(...there.places.map(({ x }) => x)) - 32;
    expect(there.level.samples.every((v, i) => i % width >= least || v === ground(i % width))).to.equal(true);
  });
});

describe('how many specks there are for each that was found', () => {
  it('is told by those that were laid in, the nearer the more of them there were', () => {
    const few = foundAgain(60, 50, 40);
    const many = foundAgain(600, 240, 192);
    expect(few.times).to.be.closeTo(1.25, 1e-9);
    expect(many.times).to.be.closeTo(1.25, 1e-9);
    // Of a fifth that is missed: what those found scatter, and what those laid in do.
    expect(few.error).to.be.closeTo(Math.sqrt(0.2 / 60 + 0.25 / 50), 1e-9);
    expect(many.error).to.be.lessThan(few.error / 2);
  });

  it('is just those, with no doubt, where every one that was laid in is found', () => {
    expect(foundAgain(60, 50, 50)).to.deep.equal({ times: 1, error: 0 });
    expect(foundAgain(0, 0, 0)).to.deep.equal({ times: 1, error: 0 });
  });

  it('is in doubt where too few were laid in, and at most twice as many', () => {
    expect(foundAgain(5, 10, 2).times).to.equal(1);
    expect(foundAgain(5, 10, 2).error).to.be.greaterThan(0.2);
    expect(foundAgain(60, 100, 5).times).to.equal(2);
  });
});
