import type { Plane } from '../picture/frame.js';
import { planeScale } from '../picture/signal.js';
import type { Runner } from './runner.js';
import { codeOf, copyOf } from './sequence.js';
import { numberOf } from './settings.js';

/** Places on each of the rings that a sample is set against, and how far out the rings lie, shares of the radius. */
const ON_A_RING = 8;
const RINGS = [1, 0.62, 0.3];
/** A ring that a sample lies on both sides of is a slope, one of which this share is unlike it is an edge. */
const MOST_UNLIKE = 0.26;
/** Half a step of the clip's own depth: what rounding would make steps of again. */
const ROUNDING = 0.5;

/** Steps in gradients are averaged away between fractions of codes, and dithered as they are rounded. */
export const deband: Runner = {
  treatment: 'deband',
  settings: {
    thresholdPct: { kind: 'number', unit: '%', least: 0.05, most: 10, step: 0.05, otherwise: 1 },
    radiusPx: { kind: 'number', unit: 'px', least: 2, most: 160, step: 1, otherwise: 32 },
    ditherPct: { kind: 'number', unit: '%', least: 0, most: 4, step: 0.05, otherwise: 0.2 },
    workingBits: { kind: 'number', unit: 'bits', least: 8, most: 24, step: 1, otherwise: 16 },
  },
  swept: 'radiusPx',
  sweepAbout: (value) => [0.5, 1, 1.5, 2].map((k) => Math.max(2, Math.min(160, Math.round(k * value)))),
  neighbours: () => 0,
  begin: (study, settings) => {
    const { clip, firstFrame } = study.sequence;
    return {
      treat: (index) => {
        const { planes } = study.sequence.pictures[index];
        return {
          planes: planes.map((plane, p) => {
            const { span, top } = planeScale(clip, p);
            const k = planes[0].width / plane.width;
            const radius = Math.max(2, numberOf(settings, 'radiusPx') / k);
            const smooth = rebuilt(plane, radius, (numberOf(settings, 'thresholdPct') / 100) * span);
            const noise = ROUNDING + (numberOf(settings, 'ditherPct') / 100) * span;
            return dithered(plane, smooth, noise, top, (firstFrame + index) * 3 + p);
          }),
        };
      },
    };
  },
};

/** Pseudo-random, the same for the same place: 0–1 (an integer hash after Wang 2007). */
const hashed = (n: number): number => {
  let h = Math.imul(n ^ 61 ^ (n >>> 16), 9);
  h = Math.imul(h ^ (h >>> 4), 0x27d4eb2d);
  return ((h ^ (h >>> 15)) >>> 0) / 4294967296;
};

/** Each sample as the mean of rings about it, where these are alike: codes with fractions. */
const rebuilt = ({ width, height, samples }: Plane, radius: number, threshold: number): Float32Array => {
  const out = Float32Array.from(samples);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      const turned = hashed(i) * 2 * Math.PI;
      const own = samples[i];
      let [sum, count, unlike] = [own, 1, 0];
      for (let k = 0; k < RINGS.length * ON_A_RING; k++) {
        const reach = radius * RINGS[Math.floor(k / ON_A_RING)];
        const angle = turned + (2 * Math.PI * k) / ON_A_RING;
        const u = Math.round(x + reach * Math.cos(angle));
        const v = Math.round(y + reach * Math.sin(angle));
        // What lies beyond the edge tells nothing, neither like nor unlike.
        if (u < 0 || v < 0 || u >= width || v >= height) continue;
        const d = samples[v * width + u] - own;
        if (Math.abs(d) > threshold) {
          unlike++;
          continue;
        }
        sum += own + d;
        count++;
      }
      if (unlike <= MOST_UNLIKE * RINGS.length * ON_A_RING) out[i] = sum / count;
    }
  return out;
};

/** Rounded with triangular noise of an amplitude in codes (Lipshitz, Wannamaker and Vanderkooy 1992); what was not changed stays as it is. */
const dithered = (plane: Plane, smooth: Float32Array, noise: number, top: number, seed: number): Plane => {
  const out = copyOf(plane);
  for (let i = 0; i < smooth.length; i++) {
    if (smooth[i] === plane.samples[i]) continue;
    const random = hashed(2 * i + seed * 7919) + hashed(2 * i + 1 + seed * 104729) - 1;
    out.samples[i] = codeOf(smooth[i] + noise * random, top);
  }
  return out;
};
