import type { Plane } from '../picture/frame.js';
import { planeScale } from '../picture/signal.js';
import { blurred } from './blur.js';
import type { Runner } from './runner.js';
import { codeOf, copyOf, subsampling } from './sequence.js';
import { numberOf, rowsOf } from './settings.js';

/** A region goes over into what is about it within so many luma pixels. */
const FEATHER_PX = 12;
/** The luma radius of a plan is this share of the pattern's period. */
const RADIUS_OVER_PERIOD = 0.4;
/** Gaussians between which the pattern's frequency lies, shares of its period; taken out so often. */
const BAND = { fine: 0.18, coarse: 0.6 };
const TIMES = 3;

/** Patterns of the sensor's grid are smoothed away in their regions: colour broadly, luma at the pattern's own frequency. */
export const reduceMoire: Runner = {
  treatment: 'reduceMoire',
  settings: {
    regions: { kind: 'rows', columns: ['x', 'y', 'width', 'height'] },
    chromaRadiusPx: { kind: 'number', unit: 'px', least: 0, most: 60, step: 0.5, otherwise: 6 },
    lumaRadiusPx: { kind: 'number', unit: 'px', least: 0, most: 30, step: 0.1, otherwise: 0 },
    strengthPct: { kind: 'number', unit: '%', least: 0, most: 100, step: 5, otherwise: 100 },
    first: { kind: 'choice', options: ['chroma', 'luma'], otherwise: 'chroma' },
  },
  swept: 'strengthPct',
  sweepAbout: () => [40, 70, 100],
  takesStructure: true,
  judgedOverFrames: 24,
  neighbours: () => 0,
  begin: (study, settings) => {
    const { clip, pictures } = study.sequence;
    const regions = rowsOf(settings, 'regions');
    const strength = numberOf(settings, 'strengthPct') / 100;
    const isColour = (p: number): boolean => p > 0 && clip.matrix !== 'rgb';
    return {
      treat: (index) => {
        const picture = pictures[index];
        return {
          planes: picture.planes.map((plane, p) => {
            const { kx, ky } = subsampling(picture, p);
            const radius = numberOf(settings, isColour(p) ? 'chromaRadiusPx' : 'lumaRadiusPx');
            const out = copyOf(plane);
            if (radius === 0) return out;
            for (const [x, y, width, height] of regions) {
              const part = partOf(plane, x / kx, y / ky, width / kx, height / ky, FEATHER_PX / kx);
              const smooth = isColour(p)
                ? blurred(part, radius / kx)
                : withoutBand(part, radius / RADIUS_OVER_PERIOD);
              blend(out, part, smooth, strength, planeScale(clip, p).top);
            }
            return out;
          }),
        };
      },
    };
  },
};

/** A part of a plane with its feather: `x`, `y` of its first sample, and how far from its sides it is treated in full. */
interface Part {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
  readonly feather: number;
  readonly samples: Float32Array;
}

const partOf = (plane: Plane, x: number, y: number, width: number, height: number, feather: number): Part => {
  const [left, top] = [Math.max(0, Math.floor(x - feather)), Math.max(0, Math.floor(y - feather))];
  const [right, bottom] = [
    Math.min(plane.width, Math.ceil(x + width + feather)),
    Math.min(plane.height, Math.ceil(y + height + feather)),
  ];
  const [w, h] = [Math.max(0, right - left), Math.max(0, bottom - top)];
  const samples = new Float32Array(w * h);
  for (let v = 0; v < h; v++)
    for (let u = 0; u < w; u++) samples[v * w + u] = plane.samples[(top + v) * plane.width + left + u];
  return { x: left, y: top, width: w, height: h, feather, samples };
};

/** Without the frequencies about a period; what is finer or coarser stays. */
const withoutBand = (part: Part, period: number): Float32Array => {
  let samples = part.samples;
  for (let pass = 0; pass < TIMES; pass++) {
    const [fine, coarse] = [BAND.fine, BAND.coarse].map((k) => blurred({ ...part, samples }, k * period));
    samples = samples.map((s, i) => s - fine[i] + coarse[i]);
  }
  return samples;
};

const blend = (out: Plane, part: Part, smooth: Float32Array, strength: number, top: number): void => {
  const { x, y, width, height, feather } = part;
  const inside = (at: number, size: number, from: number, whole: number): number => {
    // At the edge of the picture there is nothing to go over into.
    const before = from === 0 ? Infinity : at + 0.5;
    const behind = from + size >= whole ? Infinity : size - at - 0.5;
    return Math.min(1, Math.min(before, behind) / feather);
  };
  for (let v = 0; v < height; v++)
    for (let u = 0; u < width; u++) {
      const weight = strength * Math.min(inside(u, width, x, out.width), inside(v, height, y, out.height));
      const [i, o] = [v * width + u, (y + v) * out.width + x + u];
      out.samples[o] = codeOf(out.samples[o] + weight * (smooth[i] - part.samples[i]), top);
    }
};
