import { expect } from 'chai';
import { disturbed, noticeableSteps } from './visibility.js';

/** Height of one step of so many bits, fraction of range. */
const step = (bits: number): number => 1 / (2 ** bits - 1);

describe('the visibility of a step', () => {
  it('rises with its height: 5 bits above 6 above 7 above 8, at every level', () => {
    for (const level of [0.1, 0.3, 0.6, 0.9]) {
      const seen = [8, 7, 6, 5].map((bits) => disturbed(noticeableSteps(level, step(bits))));
      expect(seen, `at ${level}`).to.deep.equal(seen.toSorted((a, b) => a - b));
      expect(seen[0], 'a step of 8 bits hardly shows').to.be.within(0.01, 0.2);
      expect(seen[2], 'one of 6 bits plainly does').to.be.above(0.5);
    }
  });

  it('is higher in the dark, where a code is a larger share of the light', () => {
    expect(noticeableSteps(0.12, step(8))).to.be.above(noticeableSteps(0.8, step(8)));
  });

  it('counts the differences that a display of black to peak white can show', () => {
    expect(noticeableSteps(0.5, 1)).to.be.within(400, 500);
    expect(noticeableSteps(0.5, 0)).to.equal(0);
  });
});
