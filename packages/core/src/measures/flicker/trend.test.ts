import { expect } from 'chai';
import { fadedIn, withoutTrend } from './trend.js';

const RATE = 25;
const curve = (light: (sec: number) => number, frames = 150): Float64Array =>
  Float64Array.from({ length: frames }, (_, t) => light(t / RATE));
const about = (light: Float64Array): Float64Array => withoutTrend(light, RATE, fadedIn(light, RATE));
const swing = (values: Float64Array): number => {
  const known = values.filter((v) => !Number.isNaN(v));
  return (Math.max(...known) - Math.min(...known)) / 2;
};

describe('the trend of light', () => {
  it('takes a slow change away and leaves the flicker as it is', () => {
    const flickering = about(curve((s) => 0.05 * s + 0.1 * Math.sin(2 * Math.PI * 3 * s)));
    expect(swing(flickering.subarray(20, 130))).to.be.closeTo(0.1, 0.006);
    expect(swing(about(curve((s) => 0.15 * Math.sin(2 * Math.PI * 0.08 * s))))).to.be.lessThan(0.01);
  });

  it('leaves a fade out, and does not let it bend what stands beside it', () => {
    const fade = about(curve((s) => (s < 3 ? 0 : s < 4 ? -3 * (s - 3) : -3)));
    expect(fade[90]).to.be.NaN;
    expect(swing(fade)).to.be.lessThan(0.01);
  });

  it('of a part of the picture that drifts is no fade', () => {
    const drifting = curve((s) => 0.5 * s + 0.05 * Math.sin(2 * Math.PI * 3 * s));
    const ofTheWhole = fadedIn(
      curve(() => 0),
      RATE,
    );
    expect(swing(withoutTrend(drifting, RATE, ofTheWhole).subarray(20, 130))).to.be.closeTo(0.05, 0.004);
    expect(about(drifting)[75]).to.be.NaN;
  });

  it('is not bent by a flash', () => {
    const flash = about(curve((s) => (Math.abs(s - 3) < 0.01 ? 0.5 : 0)));
    expect(Math.abs(flash[70])).to.be.lessThan(0.005);
  });
});
