import { expect } from 'chai';
import { groupedBy } from './grouped.js';

describe('rows by what they belong to', () => {
  const rows = [
    { clip: 'a', n: 1 },
    { clip: 'b', n: 2 },
    { clip: 'a', n: 3 },
  ];

  it('keep their order, and are none where there are none', () => {
    const of = groupedBy(rows, (r) => r.clip);
    expect(of('a').map((r) => r.n)).to.deep.equal([1, 3]);
    expect(of('b').map((r) => r.n)).to.deep.equal([2]);
    expect(of('c')).to.deep.equal([]);
    expect(groupedBy([], () => '')('a')).to.deep.equal([]);
  });
});
