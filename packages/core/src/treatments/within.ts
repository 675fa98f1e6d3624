import type { Plane } from '../picture/frame.js';
import { planeScale } from '../picture/signal.js';
import type { Runner } from './runner.js';
import { codeOf, copyOf, subsampling, type Picture } from './sequence.js';
import { rowsOf } from './settings.js';

/** A region goes over into what is about it within so many luma pixels. */
const FEATHER_PX = 12;

/** A treatment that may be limited to regions of the picture, or kept from them: skin, a sky, a screen. */
export const withinRegions = (runner: Runner): Runner => ({
  ...runner,
  settings: {
    ...runner.settings,
    regions: { kind: 'rows', columns: ['x', 'y', 'width', 'height'] },
    /** Whether it works everywhere but in the regions. */
    keepFrom: { kind: 'flag', otherwise: false },
  },
  begin: (study, settings, ...given) => {
    const running = runner.begin(study, settings, ...given);
    const regions = rowsOf(settings, 'regions');
    if (regions.length === 0) return running;
    const { clip, pictures } = study.sequence;
    const weights = pictures[0].planes.map((plane, p) => {
      const { kx, ky } = subsampling(pictures[0], p);
      return weightsOf(plane, regions, kx, ky, settings.keepFrom === true);
    });
    return {
      ...running,
      treat: (index) => {
        const treated = running.treat(index);
        return blended(pictures[index], treated, weights, (p) => planeScale(clip, p).top);
      },
    };
  },
});

const blended = (
  before: Picture,
  after: Picture,
  weights: readonly Float32Array[],
  topOf: (p: number) => number,
): Picture => ({
  planes: before.planes.map((plane, p) => {
    const out = copyOf(plane);
    const to = after.planes[p].samples;
    for (let i = 0; i < to.length; i++) {
      const w = weights[p][i];
      if (w > 0) out.samples[i] = codeOf(plane.samples[i] + w * (to[i] - plane.samples[i]), topOf(p));
    }
    return out;
  }),
});

/** How much of a treatment each sample of a plane gets, 0–1. */
const weightsOf = (
  { width, height }: Plane,
  regions: readonly (readonly number[])[],
  kx: number,
  ky: number,
  keepFrom: boolean,
): Float32Array => {
  const out = new Float32Array(width * height);
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++) {
      let inside = 0;
      for (const [left, top, w, h] of regions) {
        const dx = Math.max(left - kx * x, kx * x - (left + w), 0);
        const dy = Math.max(top - ky * y, ky * y - (top + h), 0);
        inside = Math.max(inside, 1 - Math.hypot(dx, dy) / FEATHER_PX);
      }
      out[i] = keepFrom ? 1 - inside : inside;
    }
  return out;
};
