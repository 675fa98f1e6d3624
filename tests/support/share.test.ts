import { expect } from 'chai';
import { shareOf } from './share.js';

describe('a share of the cases', () => {
  const cases = Array.from({ length: 28 }, (_, i) => i);
  const isWhole = process.env.BEVRIN_TEST_ALL === '1';

  it('has as many as were asked for, spread over all, the first among them', () => {
    for (const most of [1, 5, 12, 27]) {
      const share = shareOf(cases, most);
      expect(share).to.have.length(isWhole ? 28 : most);
      expect(share[0]).to.equal(0);
      for (let i = 1; i < share.length; i++)
        expect(share[i] - share[i - 1]).to.be.within(1, Math.ceil(28 / most));
    }
  });

  it('is all of them where there are no more', () => {
    expect(shareOf(cases, 28)).to.deep.equal(cases);
    expect(shareOf(cases, 40)).to.deep.equal(cases);
    expect(shareOf([], 3)).to.deep.equal([]);
  });
});
