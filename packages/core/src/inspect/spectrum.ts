import type { Region } from '#document';
import { PairSpectrum } from '../maths/fft2.js';
import type { Plane } from '../picture/frame.js';

/** Side of the window, pixels. */
export const SPECTRUM_SIDE = 64;

/**
 * Power of the spatial frequencies in the middle of a place, with a Hann window, in decibels below the strongest.
 * @returns rows from −½ to ½ cycles a pixel down, columns the same across; `null` where the picture is too small
 */
export const spectrumAt = (
  { width, height, samples }: Plane,
  region: Pick<Region, 'x' | 'y' | 'width' | 'height'>,
): Float32Array | null => {
  const n = SPECTRUM_SIDE;
  if (width < n || height < n) return null;
  const place = (middle: number, most: number): number =>
    Math.max(0, Math.min(most - n, Math.round(middle - n / 2)));
  const left = place(region.x + region.width / 2, width);
  const top = place(region.y + region.height / 2, height);
  const spectrum = new PairSpectrum(n);
  spectrum.take({ width, samples }, null, left, top);
  const power = new Float32Array(n * n);
  for (let v = 0; v < n; v++)
    for (let u = 0; u < n; u++) {
      const { re, im } = spectrum.first(u, v);
      power[((v + n / 2) % n) * n + ((u + n / 2) % n)] = re * re + im * im;
    }
  const most = power.reduce((a, b) => Math.max(a, b), 1e-12);
  return power.map((p) => 10 * Math.log10(Math.max(p / most, 1e-12)));
};
