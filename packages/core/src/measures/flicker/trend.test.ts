import { expect } from 'chai';
import { withoutTrend } from './trend.js';

const RATE = 25;
const curve = (light: (sec: number) => number, frames = 150): Float64Array =>
  Float64Array.from({ length: frames }, (_, t) => light(t / RATE));
const swing = (values: Float64Array): number => {
  const known = values.filter((v) => !Number.isNaN(v));
  return (Math.max(...known) - Math.min(...known)) / 2;
};

describe('the trend of light', () => {
  it('takes a slow change away and leaves the flicker as it is', () => {
    const about = withoutTrend(
      curve((s) => 0.05 * s + 0.1 * Math.sin(2 * Math.PI * 3 * s)),
      RATE,
    );
    expect(swing(about.subarray(20, 130))).to.be.closeTo(0.1, 0.006);
    expect(
      swing(
        withoutTrend(
          curve((s) => 0.15 * Math.sin(2 * Math.PI * 0.08 * s)),
          RATE,
        ),
      ),
    ).to.be.lessThan(0.01);
  });

  it('leaves a fade out, and does not let it bend what stands beside it', () => {
    const about = withoutTrend(
      curve((s) => (s < 3 ? 0 : s < 4 ? -3 * (s - 3) : -3)),
      RATE,
    );
    expect(about[90]).to.be.NaN;
    expect(swing(about)).to.be.lessThan(0.01);
  });

  it('is not bent by a flash', () => {
    const about = withoutTrend(
      curve((s) => (Math.abs(s - 3) < 0.01 ? 0.5 : 0)),
      RATE,
    );
    expect(Math.abs(about[70])).to.be.lessThan(0.005);
  });
});
