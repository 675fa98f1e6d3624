import type { Plane } from '../picture/frame.js';
import { planeScale } from '../picture/signal.js';
import { cubic, LANCZOS_LOBES, lanczosOf, linear, resized, type Field, type Filter } from './resize.js';
import type { Runner } from './runner.js';
import { blankLike, codeOf, copyOf } from './sequence.js';
import { numberOf } from './settings.js';

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
    nativeScale: { kind: 'number', unit: '', least: 0.05, most: 1, step: 0.01, otherwise: 1 },
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

/** About 30 operations for each sample and direction, and twice that for each round of restoring. */
const rescaled = (plane: Plane, native: number, restore: number, first: Filter, top: number): Plane => {
  const { width, height } = plane;
  const small = {
    width: Math.max(2, Math.round(width * native)),
    height: Math.max(2, Math.round(height * native)),
  };
  const came: Field = { width, height, samples: Float32Array.from(plane.samples) };
  let field = resized(came, small, lanczosOf, LANCZOS_LOBES);
  for (let round = 0; restore > 0 && round < ROUNDS; round++) {
    const again = resized(field, came, first, 2);
    for (let i = 0; i < again.samples.length; i++) again.samples[i] = came.samples[i] - again.samples[i];
    const missing = resized(again, small, lanczosOf, LANCZOS_LOBES);
    const samples = field.samples.map((v, i) => v + restore * missing.samples[i]);
    field = { ...small, samples };
  }
  const large = resized(field, came, lanczosOf, LANCZOS_LOBES);
  const out = blankLike(plane);
  for (let i = 0; i < large.samples.length; i++) out.samples[i] = codeOf(large.samples[i], top);
  return out;
};
