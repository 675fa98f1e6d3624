import { expect } from 'chai';
import { consensus, halfSampleMode, madSigma, median, quantile } from './robust.js';

describe('robust statistics', () => {
  it('takes the median and quantiles between samples', () => {
    expect(median([4, 1, 3, 2])).to.equal(2.5);
    expect(quantile([0, 10], 0.25)).to.equal(2.5);
    expect(median([])).to.be.NaN;
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
});
