import FFT from 'fft.js';
import { hann } from '../../maths/hann.js';
import { median, quantile } from '../../maths/robust.js';
import type { Plane } from '../../picture/frame.js';
import { ImageFinder } from './images.js';

/** Every so many rows and columns are looked at: each carries the same period. */
const LINE_STEP = 3;
/** Samples over which the content's own share of the curve is averaged out. */
const ABOUT = 15;
/** Samples further off than this many times the usual are edges of things. */
const MOST_OFF = 3;
/** Frequencies that are looked at, cycles a sample: pictures enlarged by 1.17 to 1.85, and by 2.2 to 7. */
const [LOWEST, HIGHEST] = [0.14, 0.46];
/** Codecs leave periods of 8 and 16 samples and their multiples: nothing is read this near to them. */
const CODEC_BLOCK = 8;
const BESIDE_BLOCKS = 0.014;
const BESIDE_MACROBLOCKS = 0.002;
/** A peak stands this far above the median, along rows and along columns. */
const STANDS_OUT = 7;

/**
 * What an interpolation leaves: new samples lie between old ones at distances that repeat, and so does how far they are
 * smoothed. The mean of the second difference of each column, and of each row, is then periodic (Gallagher 2005).
 */
export class EnlargementFinder {
  private columns: Float64Array = new Float64Array(0);
  private rows: Float64Array = new Float64Array(0);
  private readonly images = new ImageFinder();

  /** About 3 operations per pixel. */
  take(plane: Plane): void {
    this.images.take(plane);
    const { width, height, samples } = plane;
    if (this.columns.length !== width || this.rows.length !== height) {
      this.columns = new Float64Array(width);
      this.rows = new Float64Array(height);
    }
    const { columns, rows } = this;
    for (let y = 0; y < height; y += LINE_STEP)
      for (let x = 1, i = y * width + 1; x < width - 1; x++, i++)
        columns[x] += Math.abs(2 * samples[i] - samples[i - 1] - samples[i + 1]);
    for (let y = 1; y < height - 1; y++) {
      let sum = 0;
      for (let i = y * width, end = i + width; i < end; i += LINE_STEP)
        sum += Math.abs(2 * samples[i] - samples[i - width] - samples[i + width]);
      rows[y] += sum;
    }
  }

  /**
   * Size of the picture before over its size now (0–1), where it was enlarged in both directions alike; `null` where nothing tells.
   * @param edges the size that the sharpest edges would have room in, 0–1
   */
  scale(edges: number): number | null {
    const [across, down] = [spectrumOf(this.columns), spectrumOf(this.rows)];
    if (!across || !down) return null;
    const found: number[] = [];
    const size = 2 * (across.length - 1);
    const heightAt = (k: number): number => Math.min(across[k], down[k]);
    const isPeak = (k: number, least: number): boolean =>
      heightAt(k) >= Math.max(least, heightAt(k - 1), heightAt(k + 1));
    for (let k = Math.ceil(LOWEST * size); k <= HIGHEST * size; k++)
      if (!isOfBlocks(k / size) && isPeak(k, STANDS_OUT)) found.push(k);
    const peaks = found.sort((a, b) => heightAt(b) - heightAt(a)).map((k) => k / size);
    const small = [...USUAL, ...peaks.flatMap((f) => [f / 2, f])].filter(
      (s) => edges <= LOOKS_SHARPER * s && this.images.gain(s) >= (s === 0.5 ? OF_HALF : OF_IMAGES),
    );
    if (small.length > 0) return Math.min(...small);
    const hasTrace = (frequency: number): boolean => {
      if (frequency < LOWEST || isOfBlocks(frequency)) return false;
      for (let k = Math.ceil((frequency - WITHIN) * size); k <= (frequency + WITHIN) * size; k++)
        if (isPeak(k, SECOND_STANDS_OUT)) return true;
      return false;
    };
    const large = peaks
      .flatMap((f) => (this.images.gain(f) >= OF_MOSAIC ? [2 * f, 1 - f] : [1 - f, 2 * f]))
      .filter((s) => s > 0.5 && s < 1);
    const both = large.filter((s) => hasBoth(s, hasTrace));
    const explained = both.map((s) => peaks.filter((f) => isOf(f, s)).length);
    return both[explained.indexOf(Math.max(...explained))] ?? large[0] ?? null;
  }
}

const isOfBlocks = (frequency: number): boolean => {
  const off = (size: number): number => Math.abs(frequency - Math.round(frequency * size) / size);
  return off(CODEC_BLOCK) < BESIDE_BLOCKS || off(2 * CODEC_BLOCK) < BESIDE_MACROBLOCKS;
};

/** The second trace of a picture that went through a mosaic stands this far above the median, near where it must lie. */
const SECOND_STANDS_OUT = 4.5;
const WITHIN = 0.003;

/**
 * A picture that went through a colour mosaic brings a period of two samples with it: enlarged, it leaves a second trace at
 * half its scale. Whether both are there, seen as frequencies that samples can carry, apart from one another.
 */
const hasBoth = (scale: number, hasTrace: (frequency: number) => boolean): boolean => {
  const [own, mosaic] = [Math.min(scale, 1 - scale), scale / 2];
  return Math.abs(own - mosaic) > 2 * WITHIN && hasTrace(own) && hasTrace(mosaic);
};

/** Whether a trace is one of those that an enlarged picture from a mosaic leaves: at half its scale, and at multiples of that. */
const isOf = (frequency: number, scale: number): boolean =>
  [1, 2, 3, 4].some((k) => {
    const at = (k * scale) / 2;
    return Math.abs(Math.abs(at - Math.round(at)) - frequency) <= WITHIN;
  });

/** Edges of a picture that was enlarged look up to this much sharper than its size can be: cubics overshoot. */
const LOOKS_SHARPER = 1.55;
/** Sizes that leave no trace apart from a codec's, or are usual. */
const USUAL = [1 / 4, 1 / 3, 1 / 2];
/** How the images of a small picture follow it: a mosaic that was enlarged reaches 0.17 at half its scale, … */
const OF_IMAGES = 0.2;
/** … and at half the size a mosaic, filled in, draws images of its own: up to 0.24. */
const OF_HALF = 0.27;
/** A trace that comes of a mosaic has as much of it at least. */
const OF_MOSAIC = 0.045;

const SIZE = 8192;

/** Amplitude of a curve about its own course, over the median amplitude; `null` of one too short to tell. */
const spectrumOf = (curve: Float64Array): Float64Array | null => {
  const inner = curve.subarray(2, -2);
  if (inner.length < 16 * CODEC_BLOCK || inner.length > SIZE) return null;
  const log = inner.map((v) => Math.log(v + 1e-6));
  const sums = new Float64Array(log.length + 1);
  log.forEach((v, i) => (sums[i + 1] = sums[i] + v));
  const half = ABOUT >> 1;
  const flat = log.map((v, i) => {
    const [from, to] = [Math.max(0, i - half), Math.min(log.length, i + half + 1)];
    return v - (sums[to] - sums[from]) / (to - from);
  });
  const most = MOST_OFF * quantile(flat.map(Math.abs), 0.68);
  const fft = new FFT(SIZE);
  const input = new Array<number>(SIZE).fill(0);
  const window = hann(flat.length);
  flat.forEach((v, i) => (input[i] = Math.max(-most, Math.min(most, v)) * window[i]));
  const output = fft.createComplexArray();
  fft.realTransform(output, input);
  const amplitude = Float64Array.from({ length: SIZE / 2 + 1 }, (_, k) =>
    Math.hypot(output[2 * k], output[2 * k + 1]),
  );
  const usual = median(amplitude.subarray(Math.ceil(LOWEST * SIZE)));
  return usual > 0 ? amplitude.map((a) => a / usual) : null;
};
