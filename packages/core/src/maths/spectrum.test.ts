import { expect } from 'chai';
import { fitSinusoid, refineFrequency, spectrumOf } from './spectrum.js';

const RATE = 24;
const wave = (hz: number, amplitude: number, frames: number, phase = 0.4): Float64Array =>
  Float64Array.from(
    { length: frames },
    (_, t) => amplitude * Math.sin((2 * Math.PI * hz * t) / RATE + phase),
  );

describe('the spectrum of light', () => {
  it('peaks at the frequency of a wave with its amplitude, in a short shot and a long one', () => {
    for (const frames of [96, 5000]) {
      const { frequencyHz, amplitude } = spectrumOf([wave(4.2, 0.05, frames)], RATE);
      const peak = amplitude.indexOf(Math.max(...amplitude));
      expect(frequencyHz[peak]).to.be.closeTo(4.2, 0.1);
      expect(amplitude[peak]).to.be.closeTo(0.05, 0.004);
    }
  });

  it('refines a frequency far beyond what the length resolves', () => {
    expect(refineFrequency([wave(3.337, 0.1, 80)], 3.2, RATE / 80, RATE)).to.be.closeTo(3.337, 0.01);
  });

  it('takes a wave for one of half the frame rate until a quarter of their beat is seen, and says what it explains at the samples', () => {
    const rate = 25;
    const waveOf = (hz: number) =>
      Float64Array.from({ length: 50 }, (_, t) => Math.cos((2 * Math.PI * hz * t) / rate));
    expect(refineFrequency([waveOf(12.45)], 12.5, 0.5, rate)).to.equal(12.5);
    expect(refineFrequency([waveOf(12)], 12.2, 0.5, rate)).to.be.closeTo(12, 0.01);
    expect(fitSinusoid(waveOf(12.5), 12.5, rate).power, 'every sample at the height').to.be.closeTo(1, 0.01);
    expect(fitSinusoid(waveOf(3), 3, rate).power, 'all heights').to.be.closeTo(0.5, 0.01);
  });

  it('fits a wave through gaps', () => {
    const holed = wave(2, 0.2, 90).map((v, t) => (t % 7 === 3 || (t > 30 && t < 40) ? NaN : v));
    const { cos, sin } = fitSinusoid(holed, 2, RATE);
    expect(Math.hypot(cos, sin)).to.be.closeTo(0.2, 1e-3);
  });
});
