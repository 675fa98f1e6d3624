import FFT from 'fft.js';
import { hann } from './hann.js';

/** Two-dimensional spectra of two square pictures at once, each real: one goes in as the real part, one as the imaginary. */
export class PairSpectrum {
  private readonly fft: FFT;
  private readonly line: number[];
  private readonly lineOut: number[];
  private readonly re: Float64Array;
  private readonly im: Float64Array;
  private readonly window: Float64Array;

  /** @param size side of the pictures, a power of 2 */
  constructor(readonly size: number) {
    this.fft = new FFT(size);
    this.line = this.fft.createComplexArray();
    this.lineOut = this.fft.createComplexArray();
    this.re = new Float64Array(size * size);
    this.im = new Float64Array(size * size);
    this.window = hann(size);
  }

  /**
   * @param read value of both pictures at a place
   * @returns after this, {@link first} and {@link second} hold for these pictures; means are taken out, Hann window
   */
  take(readFirst: (x: number, y: number) => number, readSecond: (x: number, y: number) => number): void {
    const { size, re, im, window } = this;
    let [a, b] = [0, 0];
    for (let y = 0, i = 0; y < size; y++)
      for (let x = 0; x < size; x++, i++) {
        re[i] = readFirst(x, y);
        im[i] = readSecond(x, y);
        a += re[i];
        b += im[i];
      }
    a /= size * size;
    b /= size * size;
    for (let y = 0, i = 0; y < size; y++)
      for (let x = 0; x < size; x++, i++) {
        const w = window[x] * window[y];
        re[i] = (re[i] - a) * w;
        im[i] = (im[i] - b) * w;
      }
    for (let y = 0; y < size; y++) this.transform(y * size, 1);
    for (let x = 0; x < size; x++) this.transform(x, size);
  }

  private transform(start: number, stride: number): void {
    const { size, re, im, line, lineOut } = this;
    for (let k = 0, i = start; k < size; k++, i += stride) {
      line[2 * k] = re[i];
      line[2 * k + 1] = im[i];
    }
    this.fft.transform(lineOut, line);
    for (let k = 0, i = start; k < size; k++, i += stride) {
      re[i] = lineOut[2 * k];
      im[i] = lineOut[2 * k + 1];
    }
  }

  private opposite(u: number, v: number): number {
    const { size } = this;
    return ((size - v) % size) * size + ((size - u) % size);
  }

  /** Spectrum of the first picture at a bin; real and imaginary part. */
  first(u: number, v: number): { re: number; im: number } {
    const i = v * this.size + u;
    const o = this.opposite(u, v);
    return { re: (this.re[i] + this.re[o]) / 2, im: (this.im[i] - this.im[o]) / 2 };
  }

  second(u: number, v: number): { re: number; im: number } {
    const i = v * this.size + u;
    const o = this.opposite(u, v);
    return { re: (this.im[i] + this.im[o]) / 2, im: (this.re[o] - this.re[i]) / 2 };
  }

  /** Power of both pictures together, over the right half plane and the upper half of its axis. */
  power(u: number, v: number): number {
    const i = v * this.size + u;
    const o = this.opposite(u, v);
    return (this.re[i] ** 2 + this.im[i] ** 2 + this.re[o] ** 2 + this.im[o] ** 2) / 2;
  }

  /** Peak power of a sinusoid of amplitude 1 in one picture. */
  get unit(): number {
    // A Hann window has the mean ½ along each side; a sinusoid has half of its amplitude at either sign.
    return (this.size * this.size * 0.25 * 0.5) ** 2;
  }
}
