import { bilinear } from '../maths/bilinear.js';
import { atPlace } from '../maths/robust.js';
import { solveSymmetric } from '../maths/solve.js';
import type { Plane } from '../picture/frame.js';
import { lumaScale } from '../picture/signal.js';
import type { Runner } from './runner.js';
import { codeOf, copyOf, subsampling, type Picture } from './sequence.js';
import { numberOf, rowsOf } from './settings.js';
import { BLOCK_PX, type Study } from './study.js';

const FROM_SURROUNDINGS = 'median of the surroundings in the same frame';
const FROM_NEIGHBOURS = 'the neighbouring frames';
/** How wide the ring is that a place is filled from, samples. */
const RING = 2;
/** Passes of the fit: what lies far off the first one is an edge, and counts less in the next. */
const PASSES = 3;

/** Faulty pixels are filled from their surroundings, or from where the same scene lies in the frames beside. */
export const correctPixels: Runner = {
  treatment: 'correctPixels',
  settings: {
    positions: { kind: 'rows', columns: ['x', 'y'] },
    radiusPx: { kind: 'number', unit: 'px', least: 1, most: 8, step: 1, otherwise: 2 },
    method: { kind: 'choice', options: [FROM_SURROUNDINGS, FROM_NEIGHBOURS], otherwise: FROM_SURROUNDINGS },
  },
  swept: 'radiusPx',
  takesStructure: true,
  sweepAbout: (value) => [1, 2, 3, 4].filter((radius) => Math.abs(radius - value) <= 2),
  neighbours: ({ method }) => (method === FROM_NEIGHBOURS ? MOST_AWAY : 0),
  begin: (study, settings) => {
    const places = rowsOf(settings, 'positions');
    const radius = numberOf(settings, 'radiusPx');
    return {
      treat: (index) => {
        const picture = study.sequence.pictures[index];
        const from = settings.method === FROM_NEIGHBOURS ? neighboursOf(study, index) : [];
        return {
          planes: picture.planes.map((plane, p) => {
            const { kx, ky } = subsampling(picture, p);
            const out = copyOf(plane);
            const reach = Math.max(1, Math.ceil(radius / Math.max(kx, ky)));
            const { top } = lumaScale(study.sequence.clip);
            for (const [x, y] of places) {
              const [u, v] = [Math.round((x + 0.5) / kx - 0.5), Math.round((y + 0.5) / ky - 0.5)];
              const moved = from
                .map((n) => ({ plane: n.picture.planes[p], ...n.shiftAt(x, y, kx, ky) }))
                .filter(({ dx, dy }) => Math.max(Math.abs(dx), Math.abs(dy)) > 2 * reach - 2 + CLEAR_OF)
                .slice(0, TAKEN);
              fill(plane, out, u, v, reach, top, moved);
            }
            return out;
          }),
        };
      },
    };
  },
};

interface Neighbour {
  readonly picture: Picture;
  /** How far the scene at a place of luma lies away in the neighbour, samples of a plane. */
  shiftAt(x: number, y: number, kx: number, ky: number): { dx: number; dy: number };
}

/** Frames on each side that are asked; the nearest that show the scene away from the fault are taken. */
const MOST_AWAY = 3;
const TAKEN = 2;
/** The same fault lies at the same place in each of them: the scene must have moved so much further than it reaches, samples. */
const CLEAR_OF = 1.5;

const neighboursOf = (study: Study, index: number): Neighbour[] =>
  Array.from({ length: MOST_AWAY }, (_, k) => [index - k - 1, index + k + 1])
    .flat()
    .filter((other) => other >= 0 && other < study.count)
    .map((other) => ({
      picture: study.sequence.pictures[other],
      shiftAt: (x, y, kx, ky) => {
        const { columns, rows, dx, dy } = study.motion(index, other);
        const column = Math.min(columns - 1, Math.floor(x / BLOCK_PX));
        const k = Math.min(rows - 1, Math.floor(y / BLOCK_PX)) * columns + column;
        return { dx: dx[k] / kx, dy: dy[k] / ky };
      },
    }));

interface Moved {
  readonly plane: Plane;
  readonly dx: number;
  readonly dy: number;
}

/** Fills the samples nearer to a place than the reach. */
const fill = (
  plane: Plane,
  out: Plane,
  x: number,
  y: number,
  reach: number,
  top: number,
  moved: readonly Moved[],
): void => {
  const fit = slopeAbout(plane, x, y, reach);
  for (let v = 1 - reach; v < reach; v++)
    for (let u = 1 - reach; u < reach; u++) {
      const [px, py] = [x + u, y + v];
      if (px < 0 || py < 0 || px >= plane.width || py >= plane.height) continue;
      const seen = moved.flatMap((m) => shownAt(m.plane, px + m.dx, py + m.dy));
      const value =
        seen.length > 0
          ? seen.reduce((a, b) => a + b, 0) / seen.length
          : fit && fit[0] + fit[1] * u + fit[2] * v;
      if (value !== null) out.samples[py * plane.width + px] = codeOf(value, top);
    }
};

/** A plane laid through the ring about a place, robust against an edge that crosses it: level, slope across, slope down. */
const slopeAbout = (
  { width, height, samples }: Plane,
  x: number,
  y: number,
  reach: number,
): Float64Array | null => {
  const ring: [u: number, v: number, value: number][] = [];
  const outer = reach + RING - 1;
  for (let v = -outer; v <= outer; v++)
    for (let u = -outer; u <= outer; u++) {
      if (Math.max(Math.abs(u), Math.abs(v)) < reach) continue;
      const [px, py] = [x + u, y + v];
      if (px >= 0 && py >= 0 && px < width && py < height) ring.push([u, v, samples[py * width + px]]);
    }
  let fit: Float64Array | null = null;
  let scale = Infinity;
  for (let pass = 0; pass < PASSES; pass++) {
    const [normal, right] = [new Float64Array(9), new Float64Array(3)];
    for (const [u, v, value] of ring) {
      const off = fit ? Math.abs(value - fit[0] - fit[1] * u - fit[2] * v) : 0;
      const weight = 1 / (1 + (off / scale) ** 2);
      const row = [1, u, v];
      for (let a = 0; a < 3; a++) {
        right[a] += weight * row[a] * value;
        for (let b = 0; b <= a; b++) normal[a * 3 + b] += weight * row[a] * row[b];
      }
    }
    for (let a = 0; a < 3; a++) normal[a * 4] += 1e-6;
    const next = solveSymmetric(normal, right);
    if (!next) return fit;
    fit = next;
    const offs = ring.map(([u, v, value]) => Math.abs(value - next[0] - next[1] * u - next[2] * v));
    scale = Math.max(0.5, atPlace(Float64Array.from(offs), offs.length >> 1));
  }
  return fit;
};

/** What a plane shows between its samples; nothing where it does not reach. */
const shownAt = ({ width, height, samples }: Plane, x: number, y: number): number[] =>
  x < 0 || y < 0 || x >= width - 1 || y >= height - 1 ? [] : [bilinear(samples, width, x, y)];
