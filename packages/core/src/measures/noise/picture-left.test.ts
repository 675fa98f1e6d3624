import { expect } from 'chai';
import { normal, seeded } from '@bevrin/rig';
import { median } from '../../maths/robust.js';
import type { BlockNoise, Channel } from './block-noise.js';
import { BLOCK } from './pair.js';
import { detailOf, detailOfNoise, withoutPicture } from './picture-left.js';
import { LAGS, lanczos } from './resample.js';

/** Repeatable numbers of a normal distribution. */
const deviates = (seed: number): (() => number) => {
  const random = seeded(seed);
  return () => normal(random);
};
const white = Float64Array.from({ length: LAGS }, (_, lag) => (lag === 0 ? 1 : 0));

const NOISE = 0.25;
const OF_NOISE = 4.7;
/** Blocks of a pair: noise of one power, texture of any, of which a share is left in the difference. */
const blocks = (count: number, left: number, texture: () => number, seed = 5): BlockNoise[] => {
  const random = deviates(seed);
  return Array.from({ length: count }, (_, i) => {
    const detail = texture();
    const power = (NOISE + left * detail) * (1 + 0.09 * random());
    const channels = ['luma', 'cb', 'cr', 'red', 'green', 'blue'] as const;
    return {
      levelPct: 20 + (i % 10),
      power: Object.fromEntries(channels.map((c) => [c, power])) as Record<Channel, number>,
      graded: null,
      bySize: [power, power / 4, power / 16],
      detail: (detail + OF_NOISE * NOISE) * (1 + 0.05 * random()),
      detailOfNoise: OF_NOISE,
      covariance: { across: white, down: white },
      x: 0,
      y: 0,
    } satisfies BlockNoise;
  });
};
const lumaOf = (found: readonly BlockNoise[]): number => median(found.map((b) => b.power.luma));

describe('what is left of the picture in a difference', () => {
  it('goes, where all of it is textured and none of it flat', () => {
    const random = deviates(8);
    const found = blocks(300, 0.02, () => 5 + 30 * Math.abs(random()));
    expect(lumaOf(found)).to.be.above(1.7 * NOISE);
    expect(lumaOf(withoutPicture(found))).to.be.closeTo(NOISE, 0.06 * NOISE);
  });

  it('is nothing that is sure where noise alone differs from block to block', () => {
    const found = blocks(300, 0, () => 0);
    expect(withoutPicture(found).map((b) => b.power.luma)).to.deep.equal(found.map((b) => b.power.luma));
  });

  it('is told for each channel by itself', () => {
    const random = deviates(9);
    const found = blocks(300, 0.02, () => 30 * Math.abs(random())).map((b) => ({
      ...b,
      power: { ...b.power, cb: NOISE },
    }));
    const after = withoutPicture(found);
    expect(median(after.map((b) => b.power.cb))).to.equal(NOISE);
    expect(median(after.map((b) => b.power.red))).to.be.below(0.9 * median(found.map((b) => b.power.red)));
  });

  it('is not told from a few blocks, and takes none below nothing', () => {
    const random = deviates(10);
    const few = blocks(20, 0.05, () => 30 * Math.abs(random()));
    expect(lumaOf(withoutPicture(few))).to.equal(lumaOf(few));
    const steep = withoutPicture(blocks(300, 1, () => 30 * Math.abs(random())));
    expect(Math.min(...steep.map((b) => b.power.luma))).to.be.at.least(0);
    expect(withoutPicture([])).to.deep.equal([]);
  });

  for (const fraction of [0, 0.25, 0.5])
    it(`reads detail of noise alone as it says, ${fraction} px apart`, () => {
      const random = deviates(11);
      const taps = lanczos(fraction);
      const side = BLOCK + 16;
      let [sum, count] = [0, 0];
      for (let n = 0; n < 60; n++) {
        const [one, other] = [0, 1].map(() => Float64Array.from({ length: side * side }, () => random()));
        const difference = new Float64Array(BLOCK * BLOCK);
        for (let r = 0; r < BLOCK; r++)
          for (let c = 0; c < BLOCK; c++) {
            let moved = 0;
            for (let v = 0; v < taps.length; v++)
              for (let u = 0; u < taps.length; u++)
                moved += taps[v] * taps[u] * other[(r + 6 + v) * side + c + 6 + u];
            difference[r * BLOCK + c] = moved - one[(r + 8) * side + c + 8];
          }
        const samples = one as unknown as Uint16Array;
        sum += detailOf({ width: side, height: side, samples }, 8, 8, difference, 1);
        count++;
      }
      const says = detailOfNoise({ across: white, down: white }, taps, taps, 1);
      expect(sum / count).to.be.closeTo(says, 0.05 * says);
    });
});
