import { quantile } from '../maths/robust.js';
import { EdgeFinder } from '../measures/softness/edges.js';
import { notMeasurable, type HarmFigure } from './figure.js';
import { framesWith, type BeforeAfter } from './pair.js';

/** Edges whose sides are flat, on both sides of the repair. */
const LEAST_EDGES = 10;
/** The edge in the middle of all. */
const USUAL = 0.5;

/** Lines beside edges, % of the step, beyond those that the original has. */
export const halos = (pair: BeforeAfter): HarmFigure => {
  const { before, after } = pair;
  const finder = new EdgeFinder(before.sequence.clip);
  const frames = framesWith(pair, (f) => [f]);
  const [was, is]: [number[], number[]] = [[], []];
  for (const { frame } of frames) {
    was.push(...finder.find(before.sequence.pictures[frame].planes[0], () => false).overshoots);
    is.push(...finder.find(after.get(frame)!.planes[0], () => false).overshoots);
  }
  if (Math.min(was.length, is.length) < LEAST_EDGES)
    return notMeasurable('There are too few edges between flat sides.');
  return {
    value: 100 * Math.max(0, quantile(is, USUAL) - quantile(was, USUAL)),
    tiles: is.length,
    frames: frames.length,
    worst: null,
  };
};
