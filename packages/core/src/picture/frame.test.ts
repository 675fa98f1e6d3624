import { expect } from 'chai';
import fc from 'fast-check';
import { burstOf, planFeed } from './frame.js';

describe('the feed', () => {
  it('asks for bursts that lie inside any clip and never overlap', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 200_000 }),
        fc.integer({ min: 16, max: 8192 }),
        (frames, width) => {
          const plan = planFeed({ width, height: 1080, frames, scan: 'progressive' });
          const seen = new Map<number, number>();
          for (let f = 0; f < frames; f++) {
            const burst = burstOf(plan, f);
            if (burst !== null) seen.set(burst, (seen.get(burst) ?? 0) + 1);
          }
          expect(seen.size).to.be.at.least(1).and.at.most(64);
          for (const count of seen.values()) expect(count).to.be.at.most(plan.bursts.length);
          if (frames >= 2) expect([...seen.values()]).to.include(2);
        },
      ),
      { numRuns: 60 },
    );
  });

  it('makes the small view at most 512 wide or high', () => {
    for (const [width, height] of [
      [1920, 1080],
      [4096, 2160],
      [720, 1280],
      [16, 16],
      [641, 359],
    ]) {
      const { small } = planFeed({ width, height, frames: 10, scan: 'progressive' });
      expect(Math.max(small.width, small.height)).to.be.at.most(512);
      expect(small.width / small.height).to.be.closeTo(width / height, 0.02);
    }
  });
});
