import { halve, type Level } from '../picture/pyramid.js';
import type { Similarity } from './similarity.js';

const SEARCH_RADIUS = 8;
/** Shifts that looked best at half size and are looked at again. */
const SECOND_LOOKS = 3;

/** Tries whole-pixel shifts at half the size of the coarsest level, and again around the best of them. */
export const search = (a: Level, b: Level): Similarity => {
  const [halfA, halfB] = [halve(a), halve(b)];
  const reachX = Math.min(SEARCH_RADIUS, a.width >> 2) >> 1;
  const reachY = Math.min(SEARCH_RADIUS, a.height >> 2) >> 1;
  const looks: Shift[] = [];
  for (let dy = -reachY; dy <= reachY; dy++)
    for (let dx = -reachX; dx <= reachX; dx++) looks.push({ dx, dy, score: likeness(halfA, halfB, dx, dy) });
  looks.sort((m, n) => n.score - m.score);
  let best: Shift = { dx: 0, dy: 0, score: likeness(a, b, 0, 0) };
  for (const look of looks.slice(0, SECOND_LOOKS))
    for (let dy = 2 * look.dy - 1; dy <= 2 * look.dy + 1; dy++)
      for (let dx = 2 * look.dx - 1; dx <= 2 * look.dx + 1; dx++) {
        const score = likeness(a, b, dx, dy);
        if (score > best.score) best = { dx, dy, score };
      }
  return { dx: best.dx, dy: best.dy, zoom: 0, turn: 0 };
};

interface Shift {
  readonly dx: number;
  readonly dy: number;
  readonly score: number;
}

/** Correlation of two pictures when the second is read at a shift; a little is taken off for long shifts. */
const likeness = (a: Level, b: Level, dx: number, dy: number): number => {
  const [left, right] = [Math.max(0, -dx), Math.min(a.width, b.width - dx)];
  let ab = 0;
  let aa = 1e-9;
  let bb = 1e-9;
  for (let y = Math.max(0, -dy); y < Math.min(a.height, b.height - dy); y++)
    for (
      let i = y * a.width + left, j = (y + dy) * b.width + left + dx, end = y * a.width + right;
      i < end;
      i++, j++
    ) {
      const p = a.samples[i];
      const q = b.samples[j];
      ab += p * q;
      aa += p * p;
      bb += q * q;
    }
  return ab / Math.sqrt(aa * bb) - 1e-4 * Math.sqrt(dx * dx + dy * dy);
};
