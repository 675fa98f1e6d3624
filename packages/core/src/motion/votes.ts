import { SEVERAL } from '../maths/enough.js';
import { kernels } from '../kernels/kernels.js';
import type { Level } from '../picture/pyramid.js';
import type { Window } from './correlation.js';
import type { Similarity } from './similarity.js';
import { vertexOf } from '../maths/vertex.js';

const COLUMNS = 9;
const ROWS = 5;
/** A tile looks this far about the first guess, pixels of the level. */
const SEARCH = 4;
const SIDE = 2 * SEARCH + 1;
/** A tile whose best match is poorer than this has nothing to say. */
const LEAST_LIKENESS = 0.5;
/** Votes closer than this, pixels, are for the same motion. */
const SAME = 0.8;
/** A first guess stands unless another motion has so many times as much behind it. */
export const LEAD = 1.2;

/** A tile at the edge of the picture counts this much: subjects stand in the middle more often than not. */
export const AT_THE_EDGE = 1.5;

interface Shift {
  readonly dx: number;
  readonly dy: number;
}
interface Vote extends Shift {
  readonly weight: number;
}

/**
 * Asks tiles of the picture how they moved, and takes the motion on which most of them agree: where a subject fills
 * a third of the picture, a fit over all of it can settle between the two. About 160 operations per pixel of the
 * first level.
 * @param first the guess that the votes are centred on, pixels of the level
 */
export const mostVotes = (a: Level, b: Level, first: Similarity): Similarity => {
  const [cx, cy] = [Math.round(first.dx), Math.round(first.dy)];
  kernels.reserve(a.samples.length + b.samples.length + 2 * scores.length, 3);
  const pictures: Kept = {
    from: { at: kernels.put(a.samples), width: a.width },
    to: { at: kernels.put(b.samples), width: b.width },
    scores: kernels.room(2 * scores.length),
  };
  const votes: Vote[] = [];
  for (let row = 0; row < ROWS; row++)
    for (let column = 0; column < COLUMNS; column++) {
      const [left, right] = tileSpan(column, COLUMNS, a.width, cx);
      const [top, bottom] = tileSpan(row, ROWS, a.height, cy);
      const shift = shiftOf(pictures, { left, right, top, bottom }, cx, cy);
      const edge = row === 0 || column === 0 || row === ROWS - 1 || column === COLUMNS - 1;
      if (shift) votes.push({ ...shift, weight: edge ? AT_THE_EDGE : 1 });
    }
  const partyOf = (m: Shift): Vote[] =>
    votes.filter((v) => Math.abs(v.dx - m.dx) < SAME && Math.abs(v.dy - m.dy) < SAME);
  const sum = (party: readonly Vote[], of: (v: Vote) => number): number =>
    party.reduce((s, v) => s + of(v) * v.weight, 0);
  const weight = (party: readonly Vote[]): number => sum(party, () => 1);
  let winners: Vote[] = [];
  for (const vote of votes) {
    const party = partyOf(vote);
    if (weight(party) > weight(winners)) winners = party;
  }
  const total = weight(winners);
  if (winners.length < SEVERAL || total < LEAD * weight(partyOf(first))) return first;
  return { dx: sum(winners, (v) => v.dx) / total, dy: sum(winners, (v) => v.dy) / total, zoom: 0, turn: 0 };
};

/** Where a tile begins and ends, so that wherever it looks it stays inside the picture. */
const tileSpan = (index: number, count: number, length: number, shift: number): readonly [number, number] => {
  const low = Math.max(0, SEARCH - shift);
  const high = Math.min(length, length - SEARCH - shift);
  return [
    Math.floor(low + ((high - low) * index) / count),
    Math.floor(low + ((high - low) * (index + 1)) / count),
  ];
};

/** A smaller tile tells nothing. */
const LEAST_SIDE = 8;
/** Every other row is enough. */
const ROW_STEP = 2;

const scores = new Float64Array(SIDE * SIDE);

/** Where the two pictures lie in the kernels' memory, and where the scores come. */
interface Kept {
  readonly from: { readonly at: number; readonly width: number };
  readonly to: { readonly at: number; readonly width: number };
  readonly scores: number;
}

const shiftOf = (
  { from, to, scores: at }: Kept,
  { left, right, top, bottom }: Window,
  cx: number,
  cy: number,
): Shift | null => {
  if (right - left < LEAST_SIDE || bottom - top < LEAST_SIDE) return null;
  kernels.run.correlations(
    from.at,
    from.width,
    to.at,
    to.width,
    left,
    right,
    top,
    bottom,
    cx,
    cy,
    SEARCH,
    ROW_STEP,
    at,
  );
  kernels.copyDoubles(at, scores.length, scores);
  const best = scores.indexOf(Math.max(...scores));
  const [x, y] = [best % SIDE, Math.floor(best / SIDE)];
  if (scores[best] < LEAST_LIKENESS || x === 0 || y === 0 || x === SIDE - 1 || y === SIDE - 1) return null;
  return {
    dx: cx + x - SEARCH + vertexOf(scores[best - 1], scores[best], scores[best + 1]),
    dy: cy + y - SEARCH + vertexOf(scores[best - SIDE], scores[best], scores[best + SIDE]),
  };
};
