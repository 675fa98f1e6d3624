import { expect } from 'chai';
import { isSameRate } from './facts.js';

describe('frame rates', () => {
  it('are the same however a file writes them', () => {
    for (const [one, other] of [
      ['25/1', '50/2'],
      ['30000/1001', '2997/100'],
      ['24000/1001', '2398/100'],
      ['60000/1001', '5994/100'],
    ])
      expect(isSameRate(one, other), `${one} and ${other}`).to.equal(true);
  });

  it('are not where one is that of film, or whole, and the other that of television', () => {
    for (const [one, other] of [
      ['24/1', '24000/1001'],
      ['30/1', '30000/1001'],
      ['60/1', '60000/1001'],
      ['25/1', '24/1'],
      ['50/1', '25/1'],
    ]) {
      expect(isSameRate(one, other), `${one} and ${other}`).to.equal(false);
      expect(isSameRate(other, one), `${other} and ${one}`).to.equal(false);
    }
  });
});
