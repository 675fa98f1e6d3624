import { connectedTo } from '../../../maths/components.js';
import type { Level } from '../../../picture/pyramid.js';

/** Pixels that belong together; lengths in pixels of the picture. */
export interface Blob {
  readonly members: readonly number[];
  readonly x: number;
  readonly y: number;
  /** Of a circle of the same size. */
  readonly radius: number;
  /** Deviations along and across. */
  readonly longest: number;
  readonly shortest: number;
  /** Mean of its samples. */
  readonly level: number;
}

/**
 * The connected pixels about one that stand out by at least half as much, and the same way.
 * @param taken pixels that belong to another; its own are added
 */
export const blobAbout = (
  { width, height, samples }: Pick<Level, 'width' | 'height' | 'samples'>,
  start: number,
  taken: Uint8Array,
): Blob => {
  const half = samples[start] / 2;
  const inside = (i: number): boolean => (half > 0 ? samples[i] >= half : samples[i] <= half);
  taken[start] = 1;
  const members = connectedTo(start, width, height, (j) => {
    if (taken[j] || !inside(j)) return false;
    taken[j] = 1;
    return true;
  });
  let [sx, sy, xx, yy, xy, sum] = [0, 0, 0, 0, 0, 0];
  for (const i of members) {
    const [x, y] = [i % width, Math.floor(i / width)];
    sx += x;
    sy += y;
    xx += x * x;
    yy += y * y;
    xy += x * y;
    sum += samples[i];
  }
  const n = members.length;
  const [x, y] = [sx / n, sy / n];
  const [vx, vy, vxy] = [xx / n - x * x + 1 / 12, yy / n - y * y + 1 / 12, xy / n - x * y];
  const apart = Math.sqrt(((vx - vy) / 2) ** 2 + vxy * vxy);
  return {
    members,
    x,
    y,
    radius: Math.sqrt(n / Math.PI),
    longest: Math.sqrt((vx + vy) / 2 + apart),
    shortest: Math.sqrt(Math.max(1e-3, (vx + vy) / 2 - apart)),
    level: sum / n,
  };
};
