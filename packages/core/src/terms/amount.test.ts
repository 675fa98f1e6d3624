import { expect } from 'chai';
import { amount } from './amount.js';

describe('a figure as it is said', () => {
  it('has three digits that count, and its unit', () => {
    expect(amount(2.3149, '%')).to.equal('2.31 %');
    expect(amount(1234.6, 'px')).to.equal('1230 px');
    expect(amount(0.01996, '%')).to.equal('0.02 %');
    expect(amount(42.4)).to.equal('42.4');
  });

  it('is one place, or several', () => {
    expect([0, 1, 2].map((n) => amount(n, 'places'))).to.deep.equal(['0 places', '1 place', '2 places']);
    expect(amount(1, 'frames')).to.equal('1 frame');
    expect(amount(1, 'px')).to.equal('1 px');
  });

  it('has a minus below nothing, no hyphen', () => {
    expect(amount(-1.6, 'heights/s')).to.equal('−1.6 heights/s');
    expect(amount(-33.2, '%')).to.equal('−33.2 %');
  });
});
