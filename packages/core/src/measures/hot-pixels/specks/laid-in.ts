import type { Level } from '../../../picture/pyramid.js';
import type { Place } from '../place.js';

/** A speck as it was found: by how many codes it differs from what lies behind it, what that is, and pixels that it covers. */
export interface Seen {
  readonly contrast: number;
  readonly ground: number;
  readonly pixels: number;
}

/** So many are laid into a frame at most: far from each other, for they must not pass for something larger. */
export const AT_ONCE = 10;
/** What is laid in looks like one of so many that were found on ground the most alike: dirt may be dark, light, or both. */
const ALIKE = 5;
/** About a place, this far, a speck is laid over what is there on average. */
const ABOUT = 2;
/** Steps from one place to the next, shares of the picture: no two are near (Roberts 2018, after Weyl). */
const STEP_X = 0.7548776662466927;
const STEP_Y = 0.5698402909980532;
/** Fewer than these that were laid in tell nothing; and no more than this many times what was found is said. */
const LEAST_LAID_IN = 40;
const MOST_MISSED = 2;

/**
 * How many specks there are for each that was found, and the standard error of that as a share of it. Each is found or
 * missed by itself, those that were laid in as well (binomial); where nothing tells, any share up to the most may be missed.
 * @param found specks that were found
 * @param laidIn specks that were laid in
 * @param again of these, found
 */
export const foundAgain = (
  found: number,
  laidIn: number,
  again: number,
): { readonly times: number; readonly error: number } => {
  if (found === 0) return { times: 1, error: 0 };
  if (laidIn < LEAST_LAID_IN) return { times: 1, error: (MOST_MISSED - 1) / Math.sqrt(12) };
  const times = Math.min(MOST_MISSED, laidIn / Math.max(1, again));
  const missed = 1 - 1 / times;
  return { times, error: Math.sqrt(missed / found + (missed * times) / laidIn) };
};

/**
 * A frame into which specks were laid that look like those which were found, and where: how many of them are found again
 * tells how many of the others were missed.
 * @param seen what was found so far; one at least
 * @param count specks that were laid in before: no frame has them where another had
 * @param margin pixels at the edges that have none
 * @param leftOut nothing is laid where this is set
 */
export const withSpecksLaidIn = (
  { width, height, samples }: Level,
  seen: readonly Seen[],
  count: number,
  margin: number,
  leftOut: Uint8Array | null = null,
): { readonly level: Level; readonly places: Place[] } => {
  const out = samples.slice();
  const places: Place[] = [];
  for (let n = count; n < count + AT_ONCE; n++) {
    const place = {
      x: Math.round(margin + ((n * STEP_X) % 1) * (width - 1 - 2 * margin)),
      y: Math.round(margin + ((n * STEP_Y) % 1) * (height - 1 - 2 * margin)),
    };
    if (leftOut?.[place.y * width + place.x]) continue;
    const ground = meanAbout(samples, width, place);
    const alike = [...seen].sort((a, b) => Math.abs(a.ground - ground) - Math.abs(b.ground - ground));
    const speck = alike[n % Math.min(ALIKE, alike.length)];
    places.push(place);
    const radius = Math.sqrt(speck.pixels / Math.PI);
    const reach = Math.ceil(radius + 0.5);
    const [left, right] = [Math.max(0, place.x - reach), Math.min(width - 1, place.x + reach)];
    const [top, bottom] = [Math.max(0, place.y - reach), Math.min(height - 1, place.y + reach)];
    for (let y = top; y <= bottom; y++)
      for (let x = left; x <= right; x++) {
        const covers = Math.max(0, Math.min(1, radius + 0.5 - Math.hypot(x - place.x, y - place.y)));
        const i = y * width + x;
        out[i] += covers * (ground + speck.contrast - out[i]);
      }
  }
  return { level: { width, height, samples: out }, places };
};

const meanAbout = (samples: Float32Array, width: number, { x, y }: Place): number => {
  let sum = 0;
  for (let v = -ABOUT; v <= ABOUT; v++)
    for (let u = -ABOUT; u <= ABOUT; u++) sum += samples[(y + v) * width + x + u];
  return sum / (2 * ABOUT + 1) ** 2;
};
