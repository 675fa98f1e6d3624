import { expect } from 'chai';
import { connectedTo } from './components.js';

describe('places that hang together', () => {
  const [W, H] = [6, 4];
  const drawn = ['##..#.', '.#..##', '.##...', '....##'].join('');
  const from = (start: number): number[] => {
    const left = new Set([...drawn].flatMap((c, i) => (c === '#' ? [i] : [])));
    left.delete(start);
    return connectedTo(start, W, H, (i) => left.delete(i)).sort((a, b) => a - b);
  };

  it('are reached by their edges, from wherever one begins', () => {
    const first = [0, 1, 7, 13, 14];
    for (const start of first) expect(from(start)).to.deep.equal(first);
    expect(from(4)).to.deep.equal([4, 10, 11]);
  });

  it('do not hang together across the edge of the picture, nor by a corner', () => {
    expect(from(22)).to.deep.equal([22, 23]);
    expect(connectedTo(5, W, H, () => false)).to.deep.equal([5]);
  });
});
