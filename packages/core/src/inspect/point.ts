import type { ClipFacts } from '#document';
import type { Plane } from '../picture/frame.js';
import { lumaScale } from '../picture/signal.js';

/** Half the side of the square in which the spread about a pixel is taken. */
const AROUND = 4;

/** One pixel of a frame, as it is stored and as it stands in the signal. */
export interface PointSample {
  readonly x: number;
  readonly y: number;
  /** Code values, in the order of the planes. */
  readonly codes: readonly number[];
  /** Level of luma (green where the matrix is `rgb`), % of range. */
  readonly levelPct: number;
  /** Standard deviation of that level about a plane through 9×9 pixels, % of range. */
  readonly sigmaPct: number;
}

/**
 * Reads one pixel.
 * @param x, y in clip pixels
 * @returns `null` outside of the picture
 */
export const pointAt = (
  planes: readonly Plane[],
  facts: Pick<ClipFacts, 'bitDepth' | 'range'>,
  x: number,
  y: number,
): PointSample | null => {
  const [first] = planes;
  if (x < 0 || y < 0 || x >= first.width || y >= first.height) return null;
  const { black, span } = lumaScale(facts);
  const codes = planes.map((p) => {
    const u = Math.min(p.width - 1, Math.floor((x * p.width) / first.width));
    const v = Math.min(p.height - 1, Math.floor((y * p.height) / first.height));
    return p.samples[v * p.width + u];
  });
  return {
    x,
    y,
    codes,
    levelPct: (100 * (codes[0] - black)) / span,
    sigmaPct: (100 * spreadAbout(first, x, y)) / span,
  };
};

/** Standard deviation about the plane of best fit, in codes. */
const spreadAbout = ({ width, height, samples }: Plane, x: number, y: number): number => {
  let [n, s, su, sv, suu, svv, sq] = [0, 0, 0, 0, 0, 0, 0];
  const left = Math.max(0, Math.min(width - 1 - 2 * AROUND, x - AROUND));
  const top = Math.max(0, Math.min(height - 1 - 2 * AROUND, y - AROUND));
  for (let j = 0; j <= 2 * AROUND && top + j < height; j++)
    for (let i = 0; i <= 2 * AROUND && left + i < width; i++) {
      const v = samples[(top + j) * width + left + i];
      const [du, dv] = [i - AROUND, j - AROUND];
      n++;
      s += v;
      su += v * du;
      sv += v * dv;
      suu += du * du;
      svv += dv * dv;
      sq += v * v;
    }
  const left2 = sq - (s * s) / n - (suu > 0 ? (su * su) / suu : 0) - (svv > 0 ? (sv * sv) / svv : 0);
  return n > 3 ? Math.sqrt(Math.max(0, left2) / (n - 3)) : 0;
};
