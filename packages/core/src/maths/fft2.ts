import { kernels } from '../kernels/kernels.js';
import { hann } from './hann.js';

interface Picture {
  /** Samples in a row. */
  readonly width: number;
  readonly samples: Uint8Array | Uint16Array | Float32Array | Float64Array;
}

/** Two-dimensional spectra of two square pictures at once, each real: one goes in as the real part, one as the imaginary. */
export class PairSpectrum {
  private readonly re: Float32Array;
  private readonly im: Float32Array;
  /** Of the bins up to the middle of each row; the others mirror them. */
  private readonly powers: Float32Array;
  private readonly window: Float32Array;
  private readonly twiddles: Float32Array;

  /** @param size side of the pictures, a power of 2, 4 at least */
  constructor(readonly size: number) {
    this.re = new Float32Array(size * size);
    this.im = new Float32Array(size * size);
    this.powers = new Float32Array(size * size);
    this.window = Float32Array.from(hann(size));
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
    kernels.reserve(3 * re.length + 2 * size, 5);
    const [twiddles, window] = [kernels.put(this.twiddles), kernels.put(this.window)];
    const [real, imaginary, power] = [re, im, powers].map((p) => kernels.room(p.length));
    const lay = ({ width, samples }: Picture, at: number): void => {
      for (let y = 0, from = top * width + left; y < size; y++, from += width)
        kernels.write(at + 4 * y * size, samples.subarray(from, from + size));
      kernels.run.underWindow(at, size, window, scale);
    };
    lay(first, real);
    if (second) lay(second, imaginary);
    else kernels.fill(imaginary, im.length, 0);
    kernels.run.pairSpectrum(real, imaginary, size, twiddles, power);
    re.set(kernels.view(real, re.length));
    im.set(kernels.view(imaginary, im.length));
    powers.set(kernels.view(power, powers.length));
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
