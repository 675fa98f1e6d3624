import { pyramid, withoutLocalMean, type Level } from '../picture/pyramid.js';
import type { Rooms } from '../picture/rooms.js';
import { align, type Alignment } from './align.js';
import { search } from './search.js';
import { AT_ONE, type Similarity } from './similarity.js';
import { mostVotes } from './votes.js';

/** A picture prepared for registration: levels from fine to coarse, each free of its local mean. */
export type Prepared = readonly Level[];

const LOCAL_MEAN_RADIUS = 5;

/**
 * A picture and its halvings, free of their local means: what registration works on.
 * @param rooms where they go, and what is only needed on the way there; memory of their own where it is not said
 */
export const prepare = (
  base: Level,
  rooms?: { readonly levels: Rooms; readonly onTheWay: Rooms },
): Prepared =>
  pyramid(base, rooms?.onTheWay).map((level) => withoutLocalMean(level, LOCAL_MEAN_RADIUS, rooms?.levels));

const PASSES = 8;
/** On a coarse level an answer within a fraction of a pixel is enough to go on from. */
const PASSES_ON_THE_WAY = 4;

/**
 * Registers two prepared pictures: a search at the coarsest level, a vote of tiles on which way most of the picture
 * goes, then at each finer level a Gauss–Newton alignment (Lucas and Kanade 1981; robust weights after Tukey) on the
 * strongest point of each cell of a grid, so that a subject's contrast cannot outvote the rest of the picture.
 * @returns the motion in pixels of the finest level, or `null` where there is too little texture
 */
export const register = (from: Prepared, to: Prepared, guess?: Similarity): Alignment | null => {
  const coarsest = from.length - 1;
  const voting = votingLevel(from);
  let motion = guess ? rescale(guess, 1 / 2 ** coarsest) : search(from[coarsest], to[coarsest]);
  let best: Alignment | null = null;
  for (let level = coarsest; level >= 0; level--) {
    let aligned = align(from[level], to[level], motion, level === 0 ? PASSES : PASSES_ON_THE_WAY);
    if (level === voting && (!aligned || aligned.spread > AT_ONE))
      aligned = align(from[level], to[level], mostVotes(from[level], to[level], motion), PASSES) ?? aligned;
    if (aligned) {
      best = aligned;
      motion = aligned.motion;
    } else if (level === 0) return null;
    if (level > 0) motion = rescale(motion, 2);
  }
  return best;
};

/** Tiles are asked at the coarsest level that is at least this wide: small enough to be quick, large enough to tell. */
const VOTING_WIDTH = 100;

const votingLevel = (levels: Prepared): number => {
  const last = levels.findLastIndex((l) => Math.max(l.width, l.height) >= VOTING_WIDTH);
  return Math.max(0, last);
};

const rescale = (m: Similarity, k: number): Similarity => ({ ...m, dx: m.dx * k, dy: m.dy * k });
