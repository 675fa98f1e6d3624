import { expect } from 'chai';
import { CodeCount } from './codes.js';
import { staircasesAlong, type Reduced } from './staircase.js';

const line = (levels: readonly number[], restless = 0): Reduced => ({
  width: levels.length,
  height: 1,
  levelPct: Float32Array.from(levels),
  restlessPct: new Float32Array(levels.length).fill(restless),
  factor: 2,
});
const treads = (heights: readonly number[], wide = 20): number[] =>
  heights.flatMap((h) => new Array<number>(wide).fill(h));
const along = (picture: Reduced) => staircasesAlong(picture, 0, 1, picture.width);

describe('staircases', () => {
  it('are steps of one direction with flat treads, and their heights are read', () => {
    const [stairs, ...others] = along(line(treads([20, 21.6, 23.2, 24.8])));
    expect(others).to.be.empty;
    expect(stairs.steps).to.have.length(3);
    for (const s of stairs.steps) expect(s.height).to.be.closeTo(1.6, 0.01);
    expect(stairs.steps[0].level).to.be.closeTo(20.8, 0.01);
    expect(stairs.from).to.be.at.most(4);
    expect(stairs.to).to.be.at.least(74);
  });

  it('are found where they are single codes of 8 bits, and where only two high ones fit in', () => {
    expect(along(line(treads([20, 20.46, 20.92, 21.38])))).to.have.length(1);
    expect(along(line(treads([20, 23.2, 26.4, 29.6], 60)))).to.have.length(1);
  });

  /** Two levels, and between them so many pixels of a mixture that is as restless as `restless`. */
  const mixedSteps = (heights: readonly number[], wide: number, restless: number): Reduced => {
    const levels: number[] = [];
    const noise: number[] = [];
    heights.forEach((h, i) => {
      if (i > 0)
        for (let k = 1; k <= wide; k++) {
          levels.push(heights[i - 1] + ((h - heights[i - 1]) * k) / (wide + 1));
          noise.push(restless);
        }
      for (let k = 0; k < 20; k++) {
        levels.push(h);
        noise.push(0.02);
      }
    });
    return { ...line(levels), restlessPct: Float32Array.from(noise) };
  };

  it('are found where grain has mixed both codes of a step over some pixels, however high it is', () => {
    const picture = mixedSteps([20, 23.6, 27.2], 2, 1);
    expect(staircasesAlong(picture, 0, 1, picture.width, true)).to.have.length(1);
    // An edge out of focus is as wide, but smooth.
    const blurred = mixedSteps([20, 23.6, 27.2], 2, 0.1);
    expect(staircasesAlong(blurred, 0, 1, blurred.width, true)).to.deep.equal([]);
  });

  for (const [what, picture] of [
    ['a smooth gradient', line(Array.from({ length: 120 }, (_, x) => 20 + 0.08 * x))],
    ['a single edge', line(treads([20, 21.6], 40))],
    ['a slat: up and down again', line(treads([20, 22, 20, 22, 20]))],
    ['edges of things', line(treads([20, 32, 45]))],
    ['codes of 10 bits', line(treads([20, 20.11, 20.23, 20.34]))],
    ['steps under grain', line(treads([20, 21.6, 23.2, 24.8]), 1.2)],
  ] as const)
    it(`are not ${what}`, () => {
      expect(along(picture)).to.deep.equal([]);
    });
});

describe('the codes of a picture', () => {
  it('tell a 10-bit file that holds 8-bit codes', () => {
    const count = new CodeCount(10);
    count.take(
      Uint16Array.from({ length: 40_000 }, (_, i) => 4 * (40 + (i % 120))),
      1,
    );
    expect(count.effectiveBits()).to.be.closeTo(8, 0.1);
  });

  it('tell a file that uses every code, whatever it shows most', () => {
    const count = new CodeCount(10);
    count.take(
      Uint16Array.from({ length: 40_000 }, (_, i) => 200 + Math.floor(150 * ((i % 997) / 997) ** 2)),
      1,
    );
    expect(count.effectiveBits()).to.equal(10);
  });
});
