import { expect } from 'chai';
import { typedLimit, typedNeighbour, withNamed } from './harm-limit.js';

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

describe('limits with one changed', () => {
  const limits = [
    { name: 'softer', pass: 1.6, fail: 2.5 },
    { name: 'level', pass: 35, fail: 60 },
  ] as const;
  const order = ['softer', 'noisier', 'level'] as const;

  it('stand in the order of their names, the new one in the place of its own', () => {
    const noisier = { name: 'noisier', pass: 2, fail: 4 } as const;
    const more = withNamed<(typeof order)[number], { name: (typeof order)[number]; pass: number }>(
      limits,
      'noisier',
      noisier,
      order,
    );
    expect(more.map((l) => l.name)).to.deep.equal(['softer', 'noisier', 'level']);
    expect(withNamed(more, 'softer', { name: 'softer', pass: 3 }, order)[0].pass).to.equal(3);
    expect(withNamed(more, 'softer', null, order).map((l) => l.name)).to.deep.equal(['noisier', 'level']);
    expect(limits, 'what was there stays').to.have.length(2);
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
