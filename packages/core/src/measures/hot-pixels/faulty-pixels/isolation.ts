import { CODE_OF_8_BITS } from '../../../picture/signal.js';
import type { Plane } from '../../../picture/frame.js';
import { quantile } from '../../../maths/robust.js';
import { chanceOf } from '../../../maths/chance.js';
import { ENOUGH } from '../../../maths/enough.js';
import { MAY_BE_CHANCE } from './crowd.js';
import type { Suspect } from './suspect.js';

/** Radii of the square rings that are looked at, px: beyond what a mosaic and a codec smear a fault over. */
const RADII = [3, 4];
/** Places on the rings about a pixel. */
export const RING_PLACES = RADII.flatMap((r) => {
  const side = Array.from({ length: 2 * r + 1 }, (_, k) => k - r);
  return side.flatMap((dy) =>
    side.filter((dx) => Math.max(Math.abs(dx), Math.abs(dy)) === r).map((dx) => [dx, dy] as const),
  );
});
const REACH = Math.max(...RADII);
/** Sum of the squares of their distances along one axis, px²; along the other it is the same. */
const RING_MOMENT = RING_PLACES.reduce((sum, [dx]) => sum + dx * dx, 0);
/** How far the places lie from the middle in a row-by-row plane of a width. */
const stepsBy = new Map<number, Int32Array>();
const stepsFor = (width: number): Int32Array => {
  const known = stepsBy.get(width);
  if (known) return known;
  const steps = Int32Array.from(RING_PLACES, ([dx, dy]) => dy * width + dx);
  stepsBy.set(width, steps);
  return steps;
};
/** Even ground is never evener than its noise leaves it, fraction of range: a third of a code at 8 bits, on average. */
export const LEAST_SPREAD = CODE_OF_8_BITS / 3;

/**
 * Adds one frame to what is known of the rings about a suspect.
 * @param span codes from black to white
 */
export const observeRings = (suspect: Suspect, { samples, width, height }: Plane, span: number): void => {
  const { x, y, rings } = suspect;
  if (x >= REACH && y >= REACH && x < width - REACH && y < height - REACH) {
    const steps = stepsFor(width);
    const middle = y * width + x;
    for (let k = 0; k < steps.length; k++) rings[k] += samples[middle + steps[k]] / span;
    return;
  }
  for (let k = 0; k < RING_PLACES.length; k++) {
    const u = Math.min(width - 1, Math.max(0, x + RING_PLACES[k][0]));
    const v = Math.min(height - 1, Math.max(0, y + RING_PLACES[k][1]));
    rings[k] += samples[v * width + u] / span;
  }
};

/**
 * How far a place stands out from the ground around it, over how uneven that ground is: the distance of its mean from the
 * median of the rings, over the rings' largest less smallest. Above 1 it lies outside all that is around it.
 * @returns 0 and more, without unit
 */
export const isolationOf = (suspect: Suspect): number => isolationIn(suspect, meansOf(suspect));

/**
 * The same where the camera carried the scene over the place: its mean is a smear there, which may lie on a slope as even as a
 * level. What falls to one side as it rises to the other is taken out of the rings (least squares).
 * @returns 0 and more, without unit
 */
export const isolationOnSlope = (suspect: Suspect): number => {
  const means = meansOf(suspect);
  const [across, down] = slopesOf(means);
  return isolationIn(
    suspect,
    means.map((m, k) => m - across * RING_PLACES[k][0] - down * RING_PLACES[k][1]),
  );
};

/**
 * How unlike its neighbours left and right are, or those above and below, over how far it stands out, beyond what the ground slopes
 * there: a photosite lies in the middle of its sample and a mosaic spreads it to all sides alike, while what a lens drew lies anywhere.
 * @returns 0 for a place that is spread evenly
 */
export const lopsidednessOf = (suspect: Suspect): number => {
  const [left, right, above, below] = suspect.sides;
  const [across, down] = slopesOf(meansOf(suspect)).map((slope) => 2 * slope * suspect.frames);
  return (
    Math.max(Math.abs(right - left - across), Math.abs(below - above - down)) / Math.abs(suspect.contrast)
  );
};

/** By how much the rings rise for each pixel across and down (least squares). */
const slopesOf = (means: readonly number[]): [number, number] => {
  const slope = (axis: 0 | 1): number =>
    means.reduce((sum, m, k) => sum + m * RING_PLACES[k][axis], 0) / RING_MOMENT;
  return [slope(0), slope(1)];
};

const isolationIn = ({ value, frames }: Suspect, rings: readonly number[]): number => {
  const spread = Math.max(...rings) - Math.min(...rings);
  return Math.abs(value / frames - quantile(rings, 0.5)) / Math.max(LEAST_SPREAD, spread);
};

/** Means over the frames on the rings about a suspect, in the order of {@link RING_PLACES}. */
const meansOf = ({ rings, frames }: Suspect): number[] => Array.from(rings, (sum) => sum / frames);

/** No detail that a lens drew stands out like this from the ground about it: in held shots of real cameras it reached 2.6. */
export const ON_EVEN_GROUND = 2.7;
/** A fault stands out from its surroundings by at least this share of their unevenness. */
export const LEAST_ISOLATION = 0.4;
/** The scene's own dots grow rarer with their isolation, by the same factor for each step: from here on they are counted, … */
const TAIL_FROM = 0.5;
/** … and a place is told where so few of them are expected to be as isolated in the whole picture. */
export const EXPECTED = 0.25;
/** Scenes have their sharp detail in crowds: this many places like it, and no more, may be other faults. */
const MOST_PEERS = 12;
/** A peer has at least this share of the contrast, and of the isolation; what is nearer belongs to the same thing, px. */
const PEER = 2 / 3;
const PEER_DISTANCE = 6;
/** What is drawn out more than this is a piece of a line. */
export const ROUND = 0.7;

/**
 * How alike a place stands out in the four directions: smallest over largest contrast with opposite neighbours.
 * @returns 1 for a round dot, less for what is drawn out, 0 where it does not stand out along some direction
 */
export const roundnessOf = ({ along, contrast }: Pick<Suspect, 'along' | 'contrast'>): number => {
  const shares = Array.from(along, (a) => a / contrast);
  return Math.max(0, Math.min(...shares)) / Math.max(1e-9, ...shares);
};

/** Whether a suspect can be told from the scene; the reason where it cannot. */
export type Evidence = { readonly told: true } | { readonly told: false; readonly because: string };

const TOLD: Evidence = { told: true };
/** A photosite, what a codec adds and the ground it lies on are no more lopsided than this; most dots that a lens drew are. */
const LOPSIDED = 0.25;
const AS_ALONE = 'the scene has dots that stand as still and as alone';

/**
 * What made a dot, as far as its shape tells: a lens spreads every dot of the scene over its neighbours and all colours. It
 * draws no `sample` that stands alone in luma, and no `site`: one colour, smeared as far as a mosaic smears one photosite.
 */
export type Shape = 'sample' | 'site' | 'drawn';

/** Well outside all that lies around it. */
export const OUT_OF_STILL = 1.7;

/** Of the scene's dots of one colour one in so many looks as a photosite does (held photographs: 1 in 80, where they are few 1 in 6). */
const TINTED_TO_ONE_ALIKE = 8;

/** What tells a fault from the scene besides the ground around it. */
interface Signs {
  /** What made a dot. */
  readonly shapeOf: (s: Suspect) => Shape;
  /** Whether the plane has a sample for each of luma: one that stands for several does not lie in their middle. */
  readonly isWhole: boolean;
  /** Whether a dot looks in every way as one photosite of the plane's colour does. */
  readonly isPhotosite: (s: Suspect) => boolean;
  /** Whether it is of that colour. */
  readonly isTinted: (s: Suspect) => boolean;
}

/**
 * Weighs the suspects of one plane of a picture that stands still against each other. A single place that stands still
 * proves nothing where everything does: what tells a fault of the sensor is even ground around it, more even than any
 * detail of this scene is expected to have, and a shape or a colour that no lens draws.
 * @returns weighs a suspect: `coloured` says that it shows in one channel alone, `ofPlane` that its plane is made of that one
 */
export const weigh = (
  suspects: readonly Suspect[],
  { shapeOf, isWhole, isPhotosite, isTinted }: Signs,
): ((s: Suspect, coloured: boolean, ofPlane: boolean) => Evidence) => {
  // Worked out once, and only where there is something to weigh.
  let all: readonly Weighed[] | null = null;
  let reach: number | null = null;
  let ofScene: number | null = null;
  let tinted: readonly Weighed[] | null = null;
  let sites: readonly Weighed[] | null = null;
  return (s, coloured, ofPlane) => {
    const own = weighed(s);
    const shape = shapeOf(s);
    if (own.isolation < LEAST_ISOLATION)
      return { told: false, because: 'it lies in detail of the scene that is as strong' };
    const known = (all ??= suspects.map(weighed));
    const isOutside = own.isolation >= OUT_OF_STILL;
    if (isOutside && isPhotosite(s)) {
      tinted ??= known.filter((o) => o.roundness >= ROUND && isTinted(o.suspect));
      sites ??= tinted.filter((o) => isPhotosite(o.suspect));
      if (!mayBeDrawn(own, tinted, sites)) return TOLD;
    }
    if (isWhole && lopsidednessOf(s) > LOPSIDED)
      return { told: false, because: 'one side of it differs from the other' };
    const peers = (alike: (o: Weighed) => boolean): number =>
      known.filter((o) => isPeer(o, own) && alike(o)).length;
    /** Where it lies in the middle of its sample the same shape to all sides tells, else only ground more even than the scene's dots have. */
    const isBeyondScene = (): boolean =>
      isWhole ? peers(() => true) <= MOST_PEERS : own.isolation >= (reach ??= reachOf(known));
    if (own.isolation >= ON_EVEN_GROUND && (shape === 'sample' || (coloured && isBeyondScene()))) return TOLD;
    if (shape === 'drawn' || (shape === 'site' && !isOutside)) return { told: false, because: AS_ALONE };
    // One photosite is of one colour: outside of what lies around it, it is like no dots but those that no lens draws either.
    const isUnlikeDrawn = isOutside && ofPlane;
    const like = peers((o) => !isUnlikeDrawn || shapeOf(o.suspect) === shape);
    if (like > MOST_PEERS)
      return { told: false, because: `${like} other places of the picture look like it` };
    if (isUnlikeDrawn) return TOLD;
    // Among thousands of leaves some are as alone as that.
    ofScene ??= reachOf(known.filter((o) => shapeOf(o.suspect) === 'drawn'));
    return own.isolation >= ofScene ? TOLD : { told: false, because: AS_ALONE };
  };
};

/**
 * Whether a place may look as a photosite does by chance, among the dots of its colour that are as strong and as alone.
 * @param sites those of them that look so
 */
const mayBeDrawn = (own: Weighed, tinted: readonly Weighed[], sites: readonly Weighed[]): boolean => {
  const peersAmong = (dots: readonly Weighed[]): number => dots.filter((o) => isPeer(o, own)).length;
  const alike = peersAmong(sites);
  return chanceOf(alike + 1, (peersAmong(tinted) - alike) / TINTED_TO_ONE_ALIKE) > MAY_BE_CHANCE;
};

/** Whether another place looks as one does: as strong, as isolated, and no part of the same thing. */
const isPeer = (o: Weighed, own: Weighed): boolean =>
  o.bright === own.bright &&
  o.contrast / own.contrast >= PEER &&
  o.isolation >= PEER * own.isolation &&
  Math.hypot(o.x - own.x, o.y - own.y) > PEER_DISTANCE;

/**
 * How isolated the most isolated dots of the scene are expected to be: an exponential tail, by its lower quartile, which
 * the faults among them hardly move. Dots that are no more than faults can be say nothing of the scene.
 */
const reachOf = (all: readonly Weighed[]): number => {
  const beyond = all
    .filter((o) => o.roundness >= ROUND && o.isolation > TAIL_FROM)
    .map((o) => o.isolation - TAIL_FROM);
  if (beyond.length < ENOUGH) return TAIL_FROM;
  const step = quantile(beyond, 0.25) / Math.log(4 / 3);
  return TAIL_FROM + step * Math.log(beyond.length / EXPECTED);
};

/** What is compared of two suspects; contrast as its mean over the frames, fraction of range. */
interface Weighed extends Pick<Suspect, 'x' | 'y' | 'bright' | 'contrast'> {
  readonly isolation: number;
  readonly roundness: number;
  readonly suspect: Suspect;
}

const weighed = (s: Suspect): Weighed => ({
  x: s.x,
  y: s.y,
  bright: s.bright,
  contrast: s.contrast / s.frames,
  isolation: isolationOf(s),
  roundness: roundnessOf(s),
  suspect: s,
});
