import { expect } from 'chai';
import { seeded } from '@bevrin/rig';
import type { BlockNoise } from './block-noise.js';
import { oddOnes } from './odd-ones.js';

/** A block whose difference holds so much, and whose neighbouring samples are so much alike. */
const block = (power: number, alike: number): BlockNoise => {
  const lags = Float64Array.of(power, alike * power);
  return { power: { luma: power }, covariance: { across: lags, down: lags } } as unknown as BlockNoise;
};
const noise = (count: number, alike: number): BlockNoise[] => {
  const random = seeded(91);
  return Array.from({ length: count }, () => block(0.9 + 0.2 * random(), alike + 0.1 * (random() - 0.5)));
};

describe('odd blocks', () => {
  it('hold much more than most, or a piece of picture; those that hold most come first', () => {
    expect(oddOnes([...noise(40, 0.05), block(1.4, 0.6), ...noise(40, 0.05), block(6, 0.05)])).to.deep.equal([
      81, 40,
    ]);
  });

  it('are none in noise, fine or coarse, nor where there is none', () => {
    for (const alike of [0, 0.4, 0.75]) expect(oddOnes(noise(80, alike)), String(alike)).to.deep.equal([]);
    expect(oddOnes(Array.from({ length: 20 }, () => block(0, 0)))).to.deep.equal([]);
  });
});
