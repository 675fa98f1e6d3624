import { seeded } from '@bevrin/rig';
import { expect } from 'chai';
import { PairSpectrum } from '../../maths/fft2.js';
import { amplitudeAt, peakOf } from './peak.js';

const SIZE = 64;
type Picture = (x: number, y: number) => number;
const picture = (at: Picture) => ({
  width: SIZE,
  samples: Float32Array.from({ length: SIZE * SIZE }, (_, i) => at(i % SIZE, Math.floor(i / SIZE))),
});
const spectrumOf = (first: Picture, second: Picture): PairSpectrum => {
  const spectrum = new PairSpectrum(SIZE);
  spectrum.take(picture(first), picture(second), 0, 0);
  return spectrum;
};
const wave =
  (amplitude: number, fx: number, fy: number, phase = 0): Picture =>
  (x, y) =>
    100 + amplitude * Math.sin(2 * Math.PI * (fx * x + fy * y) + phase);
const noise = (seed: number, size: number): Picture => {
  const random = seeded(seed);
  const values = Float64Array.from({ length: SIZE * SIZE }, () => size * (random() - 0.5));
  return (x, y) => values[y * SIZE + x];
};
const both =
  (...all: Picture[]): Picture =>
  (x, y) =>
    all.reduce((sum, each) => sum + each(x, y), 0);

describe('the regular pattern of a window', () => {
  it('is read with its waves, its amplitude, and how far it went on in the next frame', () => {
    const found = peakOf(
      spectrumOf(both(wave(8, 0.171, 0.083), noise(1, 4)), both(wave(8, 0.171, 0.083, -0.6), noise(2, 4))),
    )!;
    expect(found.fx).to.be.closeTo(0.171, 0.003);
    expect(found.fy).to.be.closeTo(0.083, 0.003);
    expect(found.amplitude).to.be.closeTo(8, 1);
    expect(found.turned).to.be.closeTo(-0.6, 0.1);
  });

  it('rises to the left as well as to the right', () => {
    const found = peakOf(spectrumOf(wave(8, 0.15, -0.2), wave(8, 0.15, -0.2)))!;
    expect([found.fx, found.fy].map((f) => Math.round(100 * f))).to.deep.equal([15, -20]);
  });

  it('is none in noise, in shading, or on an edge', () => {
    expect(peakOf(spectrumOf(noise(3, 40), noise(4, 40)))).to.equal(null);
    const shading: Picture = (x, y) => 60 + 0.8 * x + 0.4 * y;
    expect(peakOf(spectrumOf(both(shading, noise(5, 2)), both(shading, noise(6, 2))))).to.equal(null);
    const edge: Picture = (x, y) => (x + 0.3 * y < 40 ? 40 : 160);
    expect(peakOf(spectrumOf(edge, edge))).to.equal(null);
  });

  it('is none that is finer than what is asked for', () => {
    const fine = spectrumOf(wave(8, 0.34, 0), wave(8, 0.34, 0));
    expect(peakOf(fine)!.bin.u).to.be.within(21, 22);
    expect(peakOf(fine, 16)).to.equal(null);
  });
});

describe('the amplitude at a place of a spectrum', () => {
  it('is that of the wave there, and little where there is none', () => {
    const spectrum = spectrumOf(wave(8, 10 / SIZE, 0), wave(8, 10 / SIZE, 0));
    expect(amplitudeAt(spectrum, 10, 0)).to.be.closeTo(8, 0.5);
    expect(amplitudeAt(spectrum, 20, 5)).to.be.below(0.1);
  });
});
