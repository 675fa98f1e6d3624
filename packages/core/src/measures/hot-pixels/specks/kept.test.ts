import { expect } from 'chai';
import { KeptSpecks } from './kept.js';

describe('specks that are kept', () => {
  const filled = (frames: number, each: number, most: number): KeptSpecks<number> => {
    const kept = new KeptSpecks<number>(most);
    for (let f = 0; f < frames; f++)
      kept.add(
        f,
        Array.from({ length: each }, (_, i) => i),
      );
    return kept;
  };

  it('are all of them while they are few', () => {
    const kept = filled(40, 3, 1000);
    expect(kept.frames).to.have.length(40);
    expect(kept.has(17)).to.equal(true);
  });

  it('are no more however long the clip is, from frames that lie evenly over all of it', () => {
    const kept = filled(10_000, 30, 1000);
    const frames = kept.frames.map((f) => f.frame);
    expect(kept.frames.length * 30).to.be.within(500, 1000);
    expect(frames.at(-1)).to.be.greaterThan(9000);
    expect(
      new Set(frames.slice(1).map((f, i) => f - frames[i])).size,
      'as far from each to the next',
    ).to.equal(1);
    expect(frames.every((f) => kept.has(f))).to.equal(true);
    expect(kept.has(frames[1] - 1), 'a frame that is not looked at').to.equal(false);
  });
});
