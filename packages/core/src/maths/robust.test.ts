import { expect } from 'chai';
import { consensus, halfSampleMode, madSigma, median, quantile, weightedMedian } from './robust.js';

describe('robust statistics', () => {
  it('takes the median and quantiles between samples', () => {
    expect(median([4, 1, 3, 2])).to.equal(2.5);
    expect(quantile([0, 10], 0.25)).to.equal(2.5);
    expect(median([])).to.be.NaN;
  });

  it('takes quantiles of long lists as sorting them would, what is no number last', () => {
    for (const count of [41, 42, 1000, 1001])
      for (const levels of [3, 1e9])
        for (const missing of [0, 7]) {
          const values = Array.from({ length: count }, (_, i) =>
            i < missing ? NaN : Math.floor((((i * 7919) % 1009) / 1009) * levels),
          );
          const sorted = Float64Array.from(values).sort();
          for (const q of [0, 0.004, 0.25, 0.5, 0.9, 0.999, 1]) {
            const at = q * (count - 1);
            const [low, high] = [sorted[Math.floor(at)], sorted[Math.ceil(at)]];
            expect(quantile(values, q)).to.deep.equal(
              low + (high - low) * (at % 1),
              `${count}, ${levels}, ${q}`,
            );
          }
        }
  });

  it('reads the spread of a normal sample and shrugs off a tenth of outliers', () => {
    const values = Array.from(
      { length: 900 },
      (_, i) => Math.sin(i * 12.9898) + Math.sin(i * 78.233) + Math.sin(i * 3.7),
    );
    const clean = madSigma(values);
    expect(madSigma([...values, ...new Array<number>(100).fill(50)])).to.be.closeTo(clean, 0.25 * clean);
  });

  it('finds what most agree on although a third lie to one side', () => {
    const values = [
      ...Array.from({ length: 60 }, (_, i) => 1 + 0.001 * (i % 7)),
      ...Array.from({ length: 30 }, (_, i) => 3 + 0.1 * i),
    ];
    expect(halfSampleMode(values)).to.be.closeTo(1.003, 0.005);
    const { level, agreeing } = consensus(Float64Array.from(values), 0.001);
    expect(level).to.be.closeTo(1.003, 0.005);
    expect(agreeing).to.be.closeTo(2 / 3, 0.1);
  });

  it('finds the middle of what weighs, which is the median where all weigh alike', () => {
    expect(weightedMedian([5, 1, 3, 2], [1, 1, 1, 1])).to.equal(median([5, 1, 3, 2]));
    expect(weightedMedian([5, 1, 3], [1, 1, 1])).to.equal(3);
    expect(weightedMedian([5, 1, 3], [4, 1, 1])).to.equal(5);
    expect(weightedMedian([5, 1, 3], [0, 1, 0])).to.equal(1);
    expect(weightedMedian([], [])).to.be.NaN;
  });
});
