import { expect } from 'chai';
import { inAt, NO_IN_OUT, outAt } from './inOut.js';

describe('in and out point', () => {
  it('are set where one is, and may be the same frame', () => {
    const set = outAt(inAt(NO_IN_OUT, 10), 20);
    expect(set).to.deep.equal({ from: 10, to: 20 });
    expect(inAt(set, 20)).to.deep.equal({ from: 20, to: 20 });
  });

  it('never stand the wrong way round: the older one goes', () => {
    const set = { from: 10, to: 20 };
    expect(inAt(set, 25)).to.deep.equal({ from: 25, to: null });
    expect(outAt(set, 5)).to.deep.equal({ from: null, to: 5 });
  });
});
