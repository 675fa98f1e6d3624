import type { Plane } from '../picture/frame.js';
import { planeScale } from '../picture/signal.js';
import type { Runner } from './runner.js';
import { blankLike, codeOf, copyOf } from './sequence.js';
import { numberOf } from './settings.js';

/** Lobes of the windowed sinc on each side (Duchon 1979). */
const LOBES = 3;
/** Times that what an enlargement would make of the small picture is set against what came: more changes less than noise. */
const ROUNDS = 3;
/** A picture this near to its own size has nothing to be scaled for. */
const OWN_SIZE = 0.985;

const KINDS = ['linear', 'cubic'] as const;

/**
 * What was blown up is brought to the size that its detail has and enlarged once, well: what the first enlargement took from
 * that detail is brought back on the way (Irani and Peleg 1991: what an enlargement would make of the small picture is set
 * against what came).
 */
export const scale: Runner = {
  treatment: 'scale',
  settings: {
    /** Size of the detail over the size of the picture. */
    nativeScale: { kind: 'number', unit: '', least: 0.2, most: 1, step: 0.01, otherwise: 1 },
    restorePct: { kind: 'number', unit: '%', least: 0, most: 100, step: 10, otherwise: 60 },
    /** How it was enlarged. */
    enlargedBy: { kind: 'choice', options: KINDS, otherwise: 'cubic' },
  },
  swept: 'restorePct',
  sweepAbout: (value) =>
    [...new Set([0, 30, value, 80, 100].map((v) => Math.max(0, Math.min(100, Math.round(v)))))].sort(
      (a, b) => a - b,
    ),
  neighbours: () => 0,
  begin: (study, settings) => {
    const { clip } = study.sequence;
    const native = numberOf(settings, 'nativeScale');
    const restore = numberOf(settings, 'restorePct') / 100;
    const first = settings.enlargedBy === 'linear' ? linear : cubic;
    return {
      treat: (index) => ({
        planes: study.sequence.pictures[index].planes.map((plane, p) =>
          native > OWN_SIZE
            ? copyOf(plane)
            : rescaled(plane, native, restore, first, planeScale(clip, p).top),
        ),
      }),
    };
  },
};

type Filter = (x: number) => number;

const linear: Filter = (x) => Math.max(0, 1 - Math.abs(x));
/** Cubic convolution (Keys 1981). */
const cubic: Filter = (x) => {
  const d = Math.abs(x);
  if (d >= 2) return 0;
  return d < 1 ? (1.5 * d - 2.5) * d * d + 1 : ((-0.5 * d + 2.5) * d - 4) * d + 2;
};
const lanczosOf: Filter = (x) => {
  if (x === 0) return 1;
  if (Math.abs(x) >= LOBES) return 0;
  const a = Math.PI * x;
  return (LOBES * Math.sin(a) * Math.sin(a / LOBES)) / (a * a);
};

interface Field {
  readonly width: number;
  readonly height: number;
  readonly samples: Float32Array;
}

/** About 30 operations for each sample and direction, and twice that for each round of restoring. */
const rescaled = (plane: Plane, native: number, restore: number, first: Filter, top: number): Plane => {
  const { width, height } = plane;
  const small = {
    width: Math.max(2, Math.round(width * native)),
    height: Math.max(2, Math.round(height * native)),
  };
  const came: Field = { width, height, samples: Float32Array.from(plane.samples) };
  let field = resized(came, small, lanczosOf, LOBES);
  for (let round = 0; restore > 0 && round < ROUNDS; round++) {
    const again = resized(field, came, first, 2);
    for (let i = 0; i < again.samples.length; i++) again.samples[i] = came.samples[i] - again.samples[i];
    const missing = resized(again, small, lanczosOf, LOBES);
    const samples = field.samples.map((v, i) => v + restore * missing.samples[i]);
    field = { ...small, samples };
  }
  const large = resized(field, came, lanczosOf, LOBES);
  const out = blankLike(plane);
  for (let i = 0; i < large.samples.length; i++) out.samples[i] = codeOf(large.samples[i], top);
  return out;
};

/** Another size, centres upon centres; where it becomes smaller the filter is as much wider. */
const resized = (
  from: Field,
  { width, height }: { width: number; height: number },
  filter: Filter,
  lobes: number,
): Field => {
  const across = alongRows(from, width, filter, lobes);
  const turned = alongRows(transposed(across), height, filter, lobes);
  return transposed(turned);
};

const alongRows = ({ width, height, samples }: Field, to: number, filter: Filter, lobes: number): Field => {
  const ratio = width / to;
  const wide = Math.max(1, ratio);
  const taps = 2 * Math.ceil(lobes * wide);
  const starts = new Int32Array(to);
  const weights = new Float32Array(to * taps);
  for (let x = 0; x < to; x++) {
    const at = (x + 0.5) * ratio - 0.5;
    starts[x] = Math.floor(at) - taps / 2 + 1;
    let sum = 0;
    for (let k = 0; k < taps; k++) sum += weights[x * taps + k] = filter((starts[x] + k - at) / wide);
    for (let k = 0; k < taps; k++) weights[x * taps + k] /= sum;
  }
  const out = new Float32Array(to * height);
  // A row with what is beyond its ends: no index is held inside the picture within the loops.
  const beside = taps;
  const row = new Float32Array(width + 2 * beside);
  for (let y = 0; y < height; y++) {
    row.set(samples.subarray(y * width, (y + 1) * width), beside);
    row.fill(samples[y * width], 0, beside);
    row.fill(samples[(y + 1) * width - 1], beside + width);
    for (let x = 0; x < to; x++) {
      let sum = 0;
      const start = starts[x] + beside;
      for (let k = 0, w = x * taps; k < taps; k++, w++) sum += weights[w] * row[start + k];
      out[y * to + x] = sum;
    }
  }
  return { width: to, height, samples: out };
};

const transposed = ({ width, height, samples }: Field): Field => {
  const out = new Float32Array(samples.length);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) out[x * height + y] = samples[y * width + x];
  return { width: height, height: width, samples: out };
};
