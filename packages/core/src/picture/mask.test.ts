import { expect } from 'chai';
import { Mask } from './mask.js';

const triangle = {
  shape: {
    kind: 'polygon' as const,
    points: [
      [10, 10],
      [50, 10],
      [30, 50],
    ] as [number, number][],
  },
  frames: { startFrame: 5, endFrame: 9 },
};

describe('masks', () => {
  it('covers a rectangle over the whole clip and a polygon over its frames', () => {
    const mask = new Mask([{ shape: { kind: 'rectangle', x: 100, y: 0, width: 20, height: 10 } }, triangle]);
    expect(mask.covers(0, 110, 5)).to.equal(true);
    expect(mask.covers(0, 120, 5)).to.equal(false);
    expect(mask.covers(7, 30, 25)).to.equal(true);
    expect(mask.covers(7, 12, 40)).to.equal(false);
    expect(mask.covers(4, 30, 25)).to.equal(false);
    expect(mask.covers(10, 30, 25)).to.equal(false);
  });

  it('tells whether a block touches it', () => {
    const mask = new Mask([triangle]);
    expect(mask.touches(6, 24, 20, 16, 16)).to.equal(true);
    expect(mask.touches(6, 60, 60, 16, 16)).to.equal(false);
  });

  it('is laid over a smaller picture', () => {
    const mask = new Mask([{ shape: { kind: 'rectangle', x: 0, y: 0, width: 40, height: 20 } }]);
    const over = mask.over(0, 8, 4, { x: 10, y: 10 })!;
    expect([...over.subarray(0, 8)]).to.deep.equal([1, 1, 1, 1, 0, 0, 0, 0]);
    expect([...over.subarray(24)]).to.deep.equal([0, 0, 0, 0, 0, 0, 0, 0]);
    expect(new Mask([triangle]).over(0, 8, 4, { x: 10, y: 10 })).to.equal(null);
  });
});
