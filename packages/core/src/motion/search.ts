import { halve, type Level } from '../picture/pyramid.js';
import { correlationAt } from './correlation.js';
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

/** Correlation of two pictures where they overlap at a shift; a little is taken off for long shifts. */
const likeness = (a: Level, b: Level, dx: number, dy: number): number => {
  const overlap = {
    left: Math.max(0, -dx),
    right: Math.min(a.width, b.width - dx),
    top: Math.max(0, -dy),
    bottom: Math.min(a.height, b.height - dy),
  };
  return correlationAt(a, b, overlap, dx, dy, 1) - 1e-4 * Math.sqrt(dx * dx + dy * dy);
};
