import { expect } from 'chai';
import { chanceOf, shareWithin, sigmasBeyond, sigmasBeyondAll } from './chance.js';

describe('chance', () => {
  it('is that of so many or more where a mean is expected', () => {
    expect(chanceOf(0, 3)).to.equal(1);
    expect(chanceOf(1, 0.1)).to.be.closeTo(1 - Math.exp(-0.1), 1e-12);
    expect(chanceOf(3, 1)).to.be.closeTo(0.0803, 1e-4);
    expect(chanceOf(4, 0)).to.equal(0);
    // Of a long clip: three standard deviations above two thousand, which hardly ever happens, and the mean itself.
    expect(chanceOf(2134, 2000)).to.be.closeTo(0.0015, 3e-4);
    expect(chanceOf(2000, 2000)).to.be.closeTo(0.5, 0.01);
  });

  it('says how far out normal errors reach, as tables do', () => {
    expect(sigmasBeyond(0.5)).to.be.closeTo(0, 1e-3);
    expect(sigmasBeyond(0.05)).to.be.closeTo(1.6449, 1e-3);
    expect(sigmasBeyond(0.01)).to.be.closeTo(2.3263, 1e-3);
    expect(sigmasBeyond(1e-5)).to.be.closeTo(4.2649, 1e-3);
    expect(sigmasBeyond(1e-9)).to.be.closeTo(5.9978, 1e-3);
  });

  it('says how far none of many reaches but in one case of a hundred', () => {
    expect(sigmasBeyondAll(1)).to.be.closeTo(2.326, 1e-3);
    expect(sigmasBeyondAll(1000)).to.be.closeTo(4.265, 1e-3);
    expect(sigmasBeyondAll(518_400)).to.be.closeTo(5.492, 2e-2);
  });

  it('says how many lie within so far of the middle, and so far out lie as many as it leaves', () => {
    expect(shareWithin(0)).to.be.closeTo(0, 1e-6);
    expect(shareWithin(1)).to.be.closeTo(0.6827, 1e-4);
    expect(shareWithin(1.96)).to.be.closeTo(0.95, 1e-4);
    for (const chance of [0.4, 0.1, 0.01, 0.001])
      expect((1 - shareWithin(sigmasBeyond(chance))) / 2, `beyond ${chance}`).to.be.closeTo(
        chance,
        5e-4 * chance ** 0.5,
      );
  });
});
