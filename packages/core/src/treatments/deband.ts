import type { Plane } from '../picture/frame.js';
import { planeScale } from '../picture/signal.js';
import { hashed } from './hash.js';
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
  takesStructure: true,
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

/** Ways in which the rings are turned: neighbours see other places, so that no ring shows. */
const TURNS = 64;

/** Offsets of the places on the rings, for each turn one after the other: columns, then rows. */
const placesAbout = (radius: number): { across: Int16Array; down: Int16Array; reach: number } => {
  const each = RINGS.length * ON_A_RING;
  const [across, down] = [new Int16Array(TURNS * each), new Int16Array(TURNS * each)];
  for (let turn = 0; turn < TURNS; turn++)
    for (let k = 0; k < each; k++) {
      const reach = radius * RINGS[Math.floor(k / ON_A_RING)];
      const angle = 2 * Math.PI * (turn / TURNS + k / ON_A_RING);
      across[turn * each + k] = Math.round(reach * Math.cos(angle));
      down[turn * each + k] = Math.round(reach * Math.sin(angle));
    }
  return { across, down, reach: Math.ceil(radius) + 1 };
};

/** Each sample as the mean of rings about it, where these are alike: codes with fractions. About 24 reads a sample. */
const rebuilt = ({ width, height, samples }: Plane, radius: number, threshold: number): Float32Array => {
  const out = Float32Array.from(samples);
  const each = RINGS.length * ON_A_RING;
  const most = Math.floor(MOST_UNLIKE * each);
  const { across, down, reach } = placesAbout(radius);
  const steps = Int32Array.from(across, (dx, k) => down[k] * width + dx);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      const first = each * ((hashed(i) * TURNS) | 0);
      const own = samples[i];
      const inside = x >= reach && y >= reach && x < width - reach && y < height - reach;
      let [sum, count, unlike] = [own, 1, 0];
      for (let k = first; k < first + each && unlike <= most; k++) {
        if (!inside) {
          const [u, v] = [x + across[k], y + down[k]];
          // What lies beyond the edge tells nothing, neither like nor unlike.
          if (u < 0 || v < 0 || u >= width || v >= height) continue;
        }
        const there = samples[i + steps[k]];
        const d = there - own;
        if (d > threshold || d < -threshold) {
          unlike++;
          continue;
        }
        sum += there;
        count++;
      }
      if (unlike <= most) out[i] = sum / count;
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
