import { expect } from 'chai';
import { boxAbout, connectedTo, shareIn } from './components.js';

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

  it('lie in a box, which stays inside the picture, and of which a share can be counted', () => {
    expect(boxAbout([7, 14], W, H, 0)).to.deep.equal({ left: 1, right: 2, top: 1, bottom: 2 });
    expect(boxAbout([7, 14], W, H, 9)).to.deep.equal({ left: 0, right: 5, top: 0, bottom: 3 });
    expect(boxAbout([7], W, H, 9, 1)).to.deep.equal({ left: 1, right: 4, top: 1, bottom: 2 });
    const box = boxAbout([7, 14], W, H, 0);
    expect(shareIn(box, W, (i) => i === 8)).to.equal(0.25);
    expect(shareIn(box, W, () => true)).to.equal(1);
  });
});
