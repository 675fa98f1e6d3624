import { expect } from 'chai';
import { typedLimit, typedNeighbour } from './harm-limit.js';

describe('a limit of harm that is typed', () => {
  it('is both of its figures, or follows from the one that is said', () => {
    expect(typedLimit('haloPct', 'pass', { pass: '4,5', fail: '9' })).to.deep.equal({
      name: 'haloPct',
      pass: 4.5,
      fail: 9,
    });
    expect(typedLimit('haloPct', 'pass', { pass: '4', fail: '' })).to.include({ pass: 4, fail: 8 });
    expect(typedLimit('detailKeptPct', 'pass', { pass: '90', fail: '' })).to.include({ fail: 72 });
    expect(typedLimit('detailKeptPct', 'fail', { pass: '', fail: '72' })).to.include({ pass: 90 });
  });

  it('is taken out where its field is emptied, and not taken where it is none', () => {
    expect(typedLimit('haloPct', 'pass', { pass: '', fail: '9' })).to.equal(null);
    expect(typedLimit('haloPct', 'pass', { pass: 'much', fail: '9' })).to.equal(undefined);
    expect(typedLimit('haloPct', 'pass', { pass: '12', fail: '9' }), 'fail must be worse').to.equal(
      undefined,
    );
    expect(typedLimit('detailKeptPct', 'pass', { pass: '60', fail: '70' })).to.equal(undefined);
  });
});

describe('a limit beside the other clips that is typed', () => {
  it('is more than once their median, and fails beyond where it passes', () => {
    expect(typedNeighbour('softer', 'pass', { pass: '1,5', fail: '' })).to.deep.equal({
      name: 'softer',
      pass: 1.5,
      fail: 3,
    });
    expect(typedNeighbour('level', 'fail', { pass: '0.5', fail: '4' })).to.include({ pass: 0.5, fail: 4 });
    expect(typedNeighbour('noisier', 'pass', { pass: '0.8', fail: '2' })).to.equal(undefined);
    expect(typedNeighbour('noisier', 'fail', { pass: '3', fail: '2' })).to.equal(undefined);
    expect(typedNeighbour('cleaner', 'fail', { pass: '3', fail: '' })).to.equal(null);
  });
});
