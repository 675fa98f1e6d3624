import { median } from '../../maths/robust.js';
import type { PairSpectrum } from '../../maths/fft2.js';
import { vertexOf } from '../../maths/vertex.js';

/** A regular pattern in a window, seen in two neighbouring frames. */
export interface Peak {
  /** Cycles per sample of the plane, along x (0 or above) and y. */
  readonly fx: number;
  readonly fy: number;
  /** Amplitude of the pattern, mean of both frames, in the unit of the samples. */
  readonly amplitude: number;
  /** Phase of the second frame's pattern less that of the first, radians. */
  readonly turned: number;
  readonly bin: { readonly u: number; readonly v: number };
}

/** Patterns wider than this many windows' worth are shading. */
const LEAST_BIN = 3;
/** A pattern stands this far above what else has about its fineness (power), */
const STANDS_OUT = 55;
/** and carries this share of all that is that fine or finer. */
const LEAST_SHARE = 0.22;

/**
 * The one regular pattern of a window, or `null` where it has none.
 * @param mostBin patterns finer than this many waves a window are left to a closer look
 */
export const peakOf = (spectrum: PairSpectrum, mostBin = spectrum.size): Peak | null => {
  const n = spectrum.size;
  const half = n >> 1;
  let best = 0;
  let [bu, bv] = [0, 0];
  let total = 0;
  const [nearest, widest, finest] = [LEAST_BIN * LEAST_BIN, 4 * mostBin * mostBin, mostBin * mostBin];
  for (let w = -half + 1; w < half; w++)
    for (let u = w <= 0 ? 1 : 0; u < half; u++) {
      const radius = u * u + w * w;
      if (radius < nearest || radius > widest) continue;
      const p = spectrum.power(u, w < 0 ? w + n : w);
      total += p;
      // Pictures fall with frequency: what stands out above that fall is a pattern.
      const weighed = p * Math.min(radius, 400);
      if (weighed <= best || radius > finest) continue;
      best = weighed;
      [bu, bv] = [u, w];
    }
  if (best <= 0 || bu >= half - 1 || Math.abs(bv) >= half - 1) return null;
  if (isShading(spectrum, bu, bv)) return null;
  const around = ringAbout(spectrum, bu, bv);
  const at = spectrum.power(bu, (bv + n) % n);
  if (around.length < 8 || at < STANDS_OUT * median(around)) return null;
  let near = 0;
  for (let i = -2; i <= 2; i++)
    for (let j = -2; j <= 2; j++) if (bu + i >= 0) near += spectrum.power(bu + i, (bv + j + n) % n);
  if (near < LEAST_SHARE * total) return null;
  const v = (bv + n) % n;
  const [a, b] = [spectrum.first(bu, v), spectrum.second(bu, v)];
  const shift = (k: 'u' | 'v'): number => {
    const power = (d: number): number =>
      k === 'u' ? spectrum.power(Math.max(0, bu + d), v) : spectrum.power(bu, (bv + d + n) % n);
    const [l, m, r] = [-1, 0, 1].map((d) => Math.log(power(d) + 1e-12));
    return vertexOf(l, m, r);
  };
  return {
    fx: (bu + shift('u')) / n,
    fy: (bv + shift('v')) / n,
    amplitude: Math.sqrt(at / 2 / spectrum.unit),
    turned: Math.atan2(b.im * a.re - b.re * a.im, b.re * a.re + b.im * a.im),
    bin: { u: bu, v },
  };
};

/** Whether power only rises from a bin to what is wider than any pattern: then it is what a window leaves of that. */
const isShading = (spectrum: PairSpectrum, u: number, v: number): boolean => {
  const n = spectrum.size;
  const power = (p: number, q: number): number => spectrum.power((p + n) % n, (q + n) % n);
  for (;;) {
    if (u * u + v * v < LEAST_BIN * LEAST_BIN) return true;
    let [nu, nv] = [u, v];
    for (let i = -1; i <= 1; i++)
      for (let j = -1; j <= 1; j++) if (power(u + i, v + j) > power(nu, nv)) [nu, nv] = [u + i, v + j];
    if (nu === u && nv === v) return false;
    [u, v] = [nu, nv];
  }
};

/** Half the width of the ring of what is as fine as a peak, bins, and what is kept away from the peak itself. */
const RING = 2;
const KEPT_AWAY = 4;

/** Powers of what is as fine as a peak at a bin and not of it. */
const ringAbout = (spectrum: PairSpectrum, bu: number, bv: number): number[] => {
  const n = spectrum.size;
  const half = n >> 1;
  const radius = Math.sqrt(bu * bu + bv * bv);
  const [inner, outer] = [(radius - RING) ** 2, (radius + RING) ** 2];
  const around: number[] = [];
  for (let w = -half + 1; w < half; w++)
    for (let u = w <= 0 ? 1 : 0; u < half; u++) {
      const square = u * u + w * w;
      if (square < inner || square > outer || (u - bu) ** 2 + (w - bv) ** 2 < KEPT_AWAY * KEPT_AWAY) continue;
      around.push(spectrum.power(u, w < 0 ? w + n : w));
    }
  return around;
};

/** Amplitude of both pictures at a bin and its neighbours. */
export const amplitudeAt = (spectrum: PairSpectrum, u: number, v: number): number => {
  let most = 0;
  for (let i = -1; i <= 1; i++)
    for (let j = -1; j <= 1; j++)
      most = Math.max(
        most,
        spectrum.power((u + i + spectrum.size) % spectrum.size, (v + j + spectrum.size) % spectrum.size),
      );
  return Math.sqrt(most / 2 / spectrum.unit);
};
