import { expect } from 'chai';
import { filteredCovariance, lanczos, LAGS, noiseGain } from './resample.js';

const white = Float64Array.from({ length: LAGS }, (_, lag) => (lag === 0 ? 1 : 0));

describe('the resampling filter', () => {
  it('reads a sample as it is, and keeps a level between samples', () => {
    expect([...lanczos(0)].map((v) => Math.abs(Math.round(v * 1e9)) / 1e9)).to.deep.equal([0, 0, 1, 0, 0, 0]);
    for (const fraction of [0.1, 0.25, 0.5, 0.9])
      expect(lanczos(fraction).reduce((s, v) => s + v, 0)).to.be.closeTo(1, 1e-12);
  });

  it('knows what it does to noise, white or clumped', () => {
    expect(noiseGain(lanczos(0), white)).to.be.closeTo(1, 1e-9);
    expect(noiseGain(lanczos(0.5), white)).to.be.within(0.6, 0.9);
    // Noise much coarser than the filter goes through unchanged.
    const coarse = Float64Array.from({ length: LAGS }, () => 1);
    expect(noiseGain(lanczos(0.5), coarse)).to.be.closeTo(1, 1e-9);
    expect(filteredCovariance(lanczos(0.5), white, 0)).to.be.closeTo(noiseGain(lanczos(0.5), white), 1e-12);
  });
});
