import { kernels } from '../kernels/kernels.js';
import { hann } from './hann.js';

interface Picture {
  /** Samples in a row. */
  readonly width: number;
  readonly samples: ArrayLike<number>;
}

/** Two-dimensional spectra of two square pictures at once, each real: one goes in as the real part, one as the imaginary. */
export class PairSpectrum {
  private readonly re: Float32Array;
  private readonly im: Float32Array;
  /** Of the bins up to the middle of each row; the others mirror them. */
  private readonly powers: Float32Array;
  private readonly window: Float64Array;
  private readonly twiddles: Float32Array;

  /** @param size side of the pictures, a power of 2, 4 at least */
  constructor(readonly size: number) {
    this.re = new Float32Array(size * size);
    this.im = new Float32Array(size * size);
    this.powers = new Float32Array(size * size);
    this.window = hann(size);
    this.twiddles = Float32Array.from({ length: size }, (_, k) => {
      const angle = (-2 * Math.PI * (k >> 1)) / size;
      return k % 2 === 0 ? Math.cos(angle) : Math.sin(angle);
    });
  }

  /**
   * @param second the other picture; nothing where there is none
   * @param left, top the window's first sample in both
   * @param scale what samples are multiplied with
   * @returns after this, {@link first}, {@link second} and {@link power} hold for these pictures; means are taken out, Hann window
   */
  take(first: Picture, second: Picture | null, left: number, top: number, scale = 1): void {
    const { re, im, powers, size } = this;
    this.windowed(first, re, left, top, scale);
    if (second) this.windowed(second, im, left, top, scale);
    else im.fill(0);
    kernels.reserve(3 * re.length + size, 4);
    const [real, imaginary] = [kernels.put(re), kernels.put(im)];
    const [twiddles, power] = [kernels.put(this.twiddles), kernels.room(re.length)];
    kernels.run.pairSpectrum(real, imaginary, size, twiddles, power);
    re.set(kernels.view(real, re.length));
    im.set(kernels.view(imaginary, im.length));
    powers.set(kernels.view(power, powers.length));
  }

  /** Free of its mean, under the window. */
  private windowed(
    { width, samples }: Picture,
    out: Float32Array,
    left: number,
    top: number,
    k: number,
  ): void {
    const { size, window } = this;
    const start = top * width + left;
    let sum = 0;
    for (let y = 0; y < size; y++)
      for (let x = 0, i = start + y * width; x < size; x++, i++) sum += samples[i];
    const mean = sum / (size * size);
    for (let y = 0, o = 0; y < size; y++) {
      const row = k * window[y];
      for (let x = 0, i = start + y * width; x < size; x++, i++, o++)
        out[o] = (samples[i] - mean) * row * window[x];
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
    return this.powers[2 * u <= this.size ? v * this.size + u : this.opposite(u, v)];
  }

  /** Peak power of a sinusoid of amplitude 1 in one picture. */
  get unit(): number {
    // A Hann window has the mean ½ along each side; a sinusoid has half of its amplitude at either sign.
    return (this.size * this.size * 0.25 * 0.5) ** 2;
  }
}
