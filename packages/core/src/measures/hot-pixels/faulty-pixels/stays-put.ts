import { BY_CHANCE } from '../../../maths/chance.js';
import {
  EXPECTED,
  isolationOnSlope,
  LEAST_ISOLATION,
  ON_EVEN_GROUND,
  LEAST_SPREAD,
  ROUND,
  roundnessOf,
} from './isolation.js';
import type { Pointed } from './pointed.js';
import { shareBeside, spread, type Suspect } from './suspect.js';

/** How the camera carried the scene over the sensor while the clip was looked at. */
export interface Carried {
  /** Whether it did, so that the scene's dots do not stand out like a fault. */
  readonly moved: boolean;
  /** Where it pointed to at each look. */
  readonly pointed: readonly Pointed[];
}

/** Frames in which the camera points this near to one of them, clip pixels, show the scene's dots in the same place. */
export const SAME_PLACE_PX = 1;
/** A place that stays put is so much likelier than chance, were it one of few; of many, no more are told by chance than are expected. */
const LEAST_ODDS = 1 / BY_CHANCE;
/**
 * How alike it stands out in the four directions, smallest over largest: a mosaic that is filled in by its gradients leaves a dark
 * lobe of up to half a dot two pixels away along rows and columns, and none along the diagonals.
 */
const ROUND_WITH_LOBES = 1 / (1 + 1 / 2);
/** Only a fault that no mosaic spread carries as little as this, nor does it leave lobes. */
const ONE_SAMPLE = 0.1;

/**
 * Whether a place stood out of whatever the camera carried over it, more than any would by chance.
 * @param places that the camera pointed to while it was looked at
 * @param suspects how many there are in its plane, of its like: any of them could be it by chance
 */
export const staysPut = (s: Suspect, places: number, suspects: number): boolean =>
  oddsOf(s, places) > Math.log(Math.max(LEAST_ODDS, suspects / EXPECTED));

/** Whether a place lies on ground more even than any detail of a scene has about it. */
export const isOnEvenGround = (s: Suspect): boolean => isolationOnSlope(s) >= ON_EVEN_GROUND;

/**
 * Whether a place stood out so much less often before it was kept an eye on than it does since, that it is no fault, which is
 * there from the first frame on: something of the scene came to lie there. Before, it had to be an extreme of its surroundings as
 * well; so a little more are given up than by chance. Of one on even ground what it lay on before hid it.
 */
export const cameToLieThere = (s: Suspect): boolean =>
  chanceOfSoFew(s.before.stoodOut, s.before.looks, s.stoodOut, s.frames) < BY_CHANCE && !isOnEvenGround(s);

/** Whether a place that stays put looks as a fault does, alone on ground that passes: detail of the scene lies in its own. */
export const isOnPassingGround = (s: Suspect): boolean => {
  const isSharp = shareBeside(s) <= ONE_SAMPLE;
  return roundnessOf(s) >= (isSharp ? ROUND : ROUND_WITH_LOBES) && isolationOnSlope(s) >= LEAST_ISOLATION;
};

/**
 * How much likelier it is that a place stands out by itself than that what passed over it did so by chance, logarithm: the
 * likelihood of its contrasts with the mean that they have over that with none, each with its own scatter (Wilks 1938). Other
 * frames than these made it a suspect.
 */
const oddsOf = ({ contrast, contrastSquares, frames }: Suspect, places: number): number => {
  const scatter = Math.max(LEAST_SPREAD, spread(contrast, contrastSquares, frames));
  return (places / 2) * Math.log1p((contrast / frames / scatter) ** 2);
};

/**
 * The chance that no more than so many of the first looks are among those in which a place stood out, were they spread over all
 * looks alike (hypergeometric: Fisher 1922).
 */
const chanceOfSoFew = (first: number, looks: number, later: number, laterLooks: number): number => {
  const [all, stoodOut] = [looks + laterLooks, first + later];
  let chance = 0;
  for (let k = Math.max(0, stoodOut - laterLooks); k <= first; k++)
    chance += Math.exp(logWays(looks, k) + logWays(laterLooks, stoodOut - k) - logWays(all, stoodOut));
  return chance;
};

/** Logarithm of the number of ways to choose so many of all. */
const logWays = (all: number, chosen: number): number => {
  let log = 0;
  for (let k = 1; k <= chosen; k++) log += Math.log((all - chosen + k) / k);
  return log;
};
