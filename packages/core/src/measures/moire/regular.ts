import FFT from 'fft.js';
import { hann } from '../../maths/hann.js';
import type { Plane } from '../../picture/frame.js';

const LINES = 6;
/** The strongest bin of a line's mean spectrum over its median, once the fall with frequency is made up for. */
const STANDS_OUT = 7;

/**
 * A quick look whether a window can hold a regular pattern: the mean spectrum of a few of its rows, or of a few
 * columns, has a peak. Twelve short transforms a window.
 */
export class RegularityCheck {
  private readonly fft: FFT;
  private readonly input: number[];
  private readonly output: number[];
  private readonly power: Float64Array;
  private readonly sorted: Float64Array;
  private readonly window: Float64Array;
  /** Makes up for how pictures fall with frequency. */
  private readonly lift: Float64Array;

  /** @param side of the window, a power of 2 */
  constructor(private readonly side: number) {
    this.fft = new FFT(side);
    this.input = new Array<number>(side).fill(0);
    this.output = this.fft.createComplexArray();
    this.power = new Float64Array(side >> 1);
    this.sorted = new Float64Array((side >> 1) - 3);
    this.window = hann(side);
    this.lift = Float64Array.from({ length: side >> 1 }, (_, k) => Math.min(k, 16) ** 1.5);
  }

  /** @param least smallest amplitude of a pattern worth a closer look, codes */
  looksRegular({ width, samples }: Plane, left: number, top: number, least: number): boolean {
    return (
      this.peaks(samples, top * width + left, width, 1, least) ||
      this.peaks(samples, top * width + left, 1, width, least)
    );
  }

  private peaks(
    samples: Plane['samples'],
    start: number,
    fromLine: number,
    stride: number,
    least: number,
  ): boolean {
    const { side, input, output, power, window, lift } = this;
    power.fill(0);
    for (let l = 0; l < LINES; l++) {
      const from = start + Math.floor(((l + 0.5) * side) / LINES) * fromLine;
      let sum = 0;
      for (let k = 0, i = from; k < side; k++, i += stride) sum += samples[i];
      const mean = sum / side;
      for (let k = 0, i = from; k < side; k++, i += stride) input[k] = (samples[i] - mean) * window[k];
      this.fft.realTransform(output, input);
      for (let k = 0; k < power.length; k++) power[k] += output[2 * k] ** 2 + output[2 * k + 1] ** 2;
    }
    let strongest = 3;
    for (let k = 3; k < power.length; k++) {
      power[k] *= lift[k];
      this.sorted[k - 3] = power[k];
      if (power[k] > power[strongest]) strongest = k;
    }
    this.sorted.sort();
    if (power[strongest] < STANDS_OUT * this.sorted[this.sorted.length >> 1]) return false;
    const amplitude = Math.sqrt(power[strongest] / lift[strongest] / LINES) / (side * 0.25);
    return amplitude >= least;
  }
}
