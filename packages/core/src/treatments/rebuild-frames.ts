import { lumaScale, planeScale } from '../picture/signal.js';
import type { Runner } from './runner.js';
import { blankLike, codeOf, copyOf, subsampling, type Picture } from './sequence.js';
import { numberOf, rowsOf } from './settings.js';
import type { Study } from './study.js';
import { carried } from './warp.js';

/** Where the frames on both sides differ by more than this share of the range, something moves by itself: it would ghost. */
const GHOSTS = 0.06;

/** Blurred frames are put together from sharp ones on both sides, carried along the movement between them. */
export const rebuildFrames: Runner = {
  treatment: 'rebuildFrames',
  settings: {
    frames: { kind: 'rows', columns: ['first', 'last'] },
    neighboursEachSide: { kind: 'number', unit: 'frames', least: 1, most: 4, step: 1, otherwise: 1 },
  },
  swept: 'neighboursEachSide',
  sweepAbout: () => [1, 2, 3],
  judgedOverFrames: 36,
  neighbours: (settings) =>
    numberOf(settings, 'neighboursEachSide') +
    Math.max(0, ...rowsOf(settings, 'frames').map(([first, last]) => last - first + 1)),
  begin: (study, settings) => {
    const { firstFrame, pictures } = study.sequence;
    const ranges = rowsOf(settings, 'frames').map(([a, b]) => [a - firstFrame, b - firstFrame] as const);
    const each = numberOf(settings, 'neighboursEachSide');
    const rangeOf = (index: number): readonly [number, number] | undefined =>
      ranges.find(([a, b]) => index >= a && index <= b);
    const built = new Map<number, Rebuilt | null>();
    const rebuilt = (index: number): Rebuilt | null => {
      if (!built.has(index)) {
        const range = rangeOf(index);
        built.set(index, range ? rebuild(study, index, range, each, (i) => rangeOf(i) === undefined) : null);
      }
      return built.get(index)!;
    };
    return {
      mask: (index) => rebuilt(index)?.ghosts ?? new Uint8Array(pictures[index].planes[0].samples.length),
      treat: (index) => ({ planes: (rebuilt(index)?.picture ?? pictures[index]).planes.map(copyOf) }),
    };
  },
};

interface Rebuilt {
  readonly picture: Picture;
  /** 255 where what moves by itself would show twice. */
  readonly ghosts: Uint8Array;
}

/** Pairs of sharp frames about a blurred one, the nearest first. */
const rebuild = (
  study: Study,
  index: number,
  [first, last]: readonly [number, number],
  each: number,
  isSharp: (index: number) => boolean,
): Rebuilt | null => {
  const { pictures, clip } = study.sequence;
  const pairs: [before: number, after: number][] = [];
  for (let k = 1; k <= each; k++) {
    const [before, after] = [first - k, last + k];
    if (before >= 0 && after < pictures.length && isSharp(before) && isSharp(after))
      pairs.push([before, after]);
  }
  if (pairs.length === 0) return null;
  const picture = pictures[index];
  const ghosts = new Uint8Array(picture.planes[0].samples.length);
  const limit = GHOSTS * lumaScale(clip).span;
  const planes = picture.planes.map((plane, p) => {
    const sampled = subsampling(picture, p);
    const { top } = planeScale(clip, p);
    const sum = new Float32Array(plane.samples.length);
    for (const [before, after] of pairs) {
      const part = (index - before) / (after - before);
      const a = carried(pictures[before].planes[p], study.motion(after, before), sampled, part);
      const b = carried(pictures[after].planes[p], study.motion(before, after), sampled, 1 - part);
      for (let i = 0; i < sum.length; i++) {
        const apart = Math.abs(a[i] - b[i]);
        // Where both sides disagree the nearer one is taken alone: half of each would ghost.
        const ghostly = p === 0 && apart > limit;
        if (ghostly) ghosts[i] = 255;
        sum[i] += ghostly ? (part <= 0.5 ? a[i] : b[i]) : (1 - part) * a[i] + part * b[i];
      }
    }
    const out = blankLike(plane);
    for (let i = 0; i < sum.length; i++) out.samples[i] = codeOf(sum[i] / pairs.length, top);
    return out;
  });
  return { picture: { planes }, ghosts };
};
