import FFT from 'fft.js';
import { hann } from './hann.js';

/** Longest stretch that is transformed at once; a longer shot is averaged over stretches (Welch 1967). */
const STRETCH = 1024;
/** The grid of frequencies is this many times finer than the stretch resolves. */
const OVERSAMPLING = 8;

/** Amplitude against frequency; arrays of one length, frequencies in Hz, amplitude in the unit of the signal. */
export interface Spectrum {
  readonly frequencyHz: Float64Array;
  /** Amplitude of a sinusoid at each frequency, in the unit of the signals, root mean square over them. */
  readonly amplitude: Float64Array;
}

/** Amplitude spectrum of several signals of one length together, Hann window. Unknown values count as 0. */
export const spectrumOf = (signals: readonly Float64Array[], frameRate: number): Spectrum => {
  const length = signals[0].length;
  const stretch = Math.min(length, STRETCH);
  const size = 2 ** Math.ceil(Math.log2(stretch * OVERSAMPLING));
  const fft = new FFT(size);
  const out = fft.createComplexArray();
  const power = new Float64Array(size / 2 + 1);
  const window = hann(stretch);
  let parts = 0;
  for (let start = 0; start + stretch <= length; start += Math.max(1, stretch >> 1))
    for (const signal of signals) {
      const input = new Array<number>(size).fill(0);
      let windowSum = 0;
      for (let t = 0; t < stretch; t++) {
        const v = signal[start + t];
        if (Number.isNaN(v)) continue;
        const w = window[t];
        input[t] = w * v;
        windowSum += w;
      }
      if (windowSum === 0) continue;
      fft.realTransform(out, input);
      for (let k = 0; k <= size / 2; k++)
        power[k] += (4 * (out[2 * k] ** 2 + out[2 * k + 1] ** 2)) / (windowSum * windowSum);
      parts++;
    }
  return {
    frequencyHz: power.map((_, k) => (k * frameRate) / size),
    amplitude: power.map((p) => Math.sqrt(p / Math.max(1, parts))),
  };
};

/** A sinusoid by its two parts, in the unit of the signal. */
export interface Sinusoid {
  readonly cos: number;
  readonly sin: number;
}

/** A sinusoid fitted to a signal. */
export interface FittedSinusoid extends Sinusoid {
  /** Mean square that it explains of the signal, in the square of its unit: what it does at the samples, not between them. */
  readonly power: number;
}

/** Least-squares sinusoid of one frequency through a signal, with its mean; unknown values are left out. */
export const fitSinusoid = (signal: Float64Array, frequencyHz: number, frameRate: number): FittedSinusoid => {
  let [n, c, s, cc, ss, cs, y, yc, ys] = [0, 0, 0, 0, 0, 0, 0, 0, 0];
  for (let t = 0; t < signal.length; t++) {
    const v = signal[t];
    if (Number.isNaN(v)) continue;
    const angle = (2 * Math.PI * frequencyHz * t) / frameRate;
    const [p, q] = [Math.cos(angle), Math.sin(angle)];
    n++;
    c += p;
    s += q;
    cc += p * p;
    ss += q * q;
    cs += p * q;
    y += v;
    yc += v * p;
    ys += v * q;
  }
  const [a, b, d, e, f] = [
    cc - (c * c) / n,
    cs - (c * s) / n,
    ss - (s * s) / n,
    yc - (c * y) / n,
    ys - (s * y) / n,
  ];
  // Near the half of the frame rate one phase is not seen: a little damping keeps the fit finite.
  const damp = 1e-4 * (a + d);
  const det = (a + damp) * (d + damp) - b * b;
  if (!(det > 0)) return { cos: 0, sin: 0, power: 0 };
  const [cos, sin] = [(e * (d + damp) - f * b) / det, (f * (a + damp) - e * b) / det];
  return { cos, sin, power: (a * cos * cos + 2 * b * cos * sin + d * sin * sin) / n };
};

/**
 * Value of a sinusoid at a frame.
 * @param frequencyHz its frequency
 * @param frameRate frames a second
 * @param frame counted from where its phase is 0; may lie between frames
 */
export const sinusoidAt = (
  { cos, sin }: Sinusoid,
  frequencyHz: number,
  frameRate: number,
  t: number,
): number => {
  const angle = (2 * Math.PI * frequencyHz * t) / frameRate;
  return cos * Math.cos(angle) + sin * Math.sin(angle);
};

/** Of a wave this much of a beat with half the frame rate must be seen to tell it from one at just that: until it has risen to its height. */
const BEAT_SEEN = 1 / 4;

/**
 * The frequency near `startHz` at which sinusoids explain most of the signals: golden-section search.
 * @returns half the frame rate where the signals are too short to tell from it
 */
export const refineFrequency = (
  signals: readonly Float64Array[],
  startHz: number,
  stepHz: number,
  frameRate: number,
): number => {
  const explained = (hz: number): number =>
    signals.reduce((sum, s) => sum + fitSinusoid(s, hz, frameRate).power, 0);
  const ratio = (Math.sqrt(5) - 1) / 2;
  let low = Math.max(startHz / 2, startHz - stepHz);
  let high = Math.min(frameRate / 2, startHz + stepHz);
  let [a, b] = [high - ratio * (high - low), low + ratio * (high - low)];
  let [fa, fb] = [explained(a), explained(b)];
  for (let i = 0; i < 24; i++) {
    if (fa > fb) {
      [high, b, fb] = [b, a, fa];
      a = high - ratio * (high - low);
      fa = explained(a);
    } else {
      [low, a, fa] = [a, b, fb];
      b = low + ratio * (high - low);
      fb = explained(b);
    }
  }
  const found = (low + high) / 2;
  const beats = ((frameRate / 2 - found) * signals[0].length) / frameRate;
  return beats < BEAT_SEEN ? frameRate / 2 : found;
};
