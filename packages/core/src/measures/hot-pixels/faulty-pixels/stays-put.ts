import { EXPECTED, isolationOnSlope, LEAST_SPREAD, ROUND, roundnessOf } from './isolation.js';
import { shareBeside, spread, type Suspect } from './suspect.js';

/** How the camera carried the scene over the sensor while the clip was looked at. */
export interface Carried {
  /** Whether it did, so that the scene's dots do not stand out like a fault. */
  readonly moved: boolean;
  /** Places that it pointed to over frames that were looked at: 1 where none shows the scene where another does. */
  readonly distinct: number;
}

/** A place that stays put is so much likelier than chance, were it one of few; of many, no more are told by chance than are expected. */
const LEAST_ODDS = 100;
/** The mean over frames in which the scene moved is even about a fault: so far it stands out of it, and a sharp one so far. */
const OUT_OF_MEAN = 0.85;
const SHARP_OUT_OF_MEAN = 0.4;
/**
 * How alike it stands out in the four directions, smallest over largest: a mosaic that is filled in by its gradients leaves a dark
 * lobe of up to half a dot two pixels away along rows and columns, and none along the diagonals.
 */
const ROUND_WITH_LOBES = 1 / (1 + 1 / 2);
/** Only a fault that no mosaic spread carries as little as this, nor does it leave lobes. */
const ONE_SAMPLE = 0.1;

/**
 * Whether a place stood out of whatever the camera carried over it, more than any would by chance.
 * @param distinct see {@link Carried}
 * @param suspects how many there are in its plane
 */
export const staysPut = (s: Suspect, distinct: number, suspects: number): boolean =>
  oddsOf(s, distinct) > Math.log(Math.max(LEAST_ODDS, suspects / EXPECTED));

/** Whether a place that stays put looks as a fault does, alone on ground that passes: detail of the scene lies in its own. */
export const isOnPassingGround = (s: Suspect): boolean => {
  const isSharp = shareBeside(s) <= ONE_SAMPLE;
  return (
    roundnessOf(s) >= (isSharp ? ROUND : ROUND_WITH_LOBES) &&
    isolationOnSlope(s) >= (isSharp ? SHARP_OUT_OF_MEAN : OUT_OF_MEAN)
  );
};

/**
 * How much likelier it is that a place stands out by itself than that what passed over it did so by chance, logarithm: the
 * likelihood of its contrasts with the mean that they have over that with none, each with its own scatter (Wilks 1938). Other
 * frames than these made it a suspect.
 */
const oddsOf = ({ contrast, contrastSquares, frames }: Suspect, distinct: number): number => {
  const scatter = Math.max(LEAST_SPREAD, spread(contrast, contrastSquares, frames));
  return ((frames * distinct) / 2) * Math.log1p((contrast / frames / scatter) ** 2);
};
