import type { ClipFacts } from '#terms';
import { sigmasBeyondAll } from '../../../maths/chance.js';
import { lumaScale } from '../../../picture/signal.js';
import { eachOnce, isOneWith, type Place } from '../place.js';
import { isAmong, mayBeChance, usualNumber } from './crowd.js';
import type { PlaneTally } from './impulses.js';
import { EXPECTED, isolationOf, OUT_OF_STILL, ROUND, roundnessOf, weigh, type Shape } from './isolation.js';
import {
  CHANNEL_OF_PLANE,
  channelOf,
  isPhotosite,
  isTinted,
  PASSING,
  rgbContrast,
  waysApart,
  type Planes,
} from './photosite.js';
import { placesIn } from './pointed.js';
import {
  cameToLieThere,
  isOnEvenGround,
  isOnPassingGround,
  SAME_PLACE_PX,
  staysPut,
  type Carried,
} from './stays-put.js';
import { shareBeside, spread, type Suspect } from './suspect.js';
import type { PixelFault, UncertainPlace } from './values.js';

/** Background that changes by this much (standard deviation, fraction of range) passed over the pixel … */
const SCENE_MOVED = 0.012;
/** … and by this much where the camera stands still, so that light that swings is not taken for a scene that moves. */
const SUBJECT_PASSED = 0.06;
/** What a fault must show in one kind of plane. */
interface Standard {
  /** Fainter places (fraction of range) are the sensor's ordinary unevenness; colour is spread over several pixels. */
  readonly leastContrast: number;
  /** The same where nothing passes over the place, and fine detail of the scene looks alike. */
  readonly leastContrastStill: number;
  /** A mosaic leaves half of a fault in the samples beside it, a codec a little more: neighbours carry up to this share. */
  readonly smeared: number;
}
/** A dot fainter than this, fraction of range, is not seen. */
const VISIBLE = 0.024;
const OF_LUMA: Standard = { leastContrast: VISIBLE, leastContrastStill: 0.08, smeared: 0.65 };
const OF_COLOUR = { leastContrast: VISIBLE, leastContrastStill: VISIBLE };
/**
 * Where samples of colour stand further apart, a lens and a mosaic spread less over their neighbours: up to this share where
 * they do both ways, as far as luma where they do not.
 */
const SMEARED_APART = 0.45;

/** @param tally of the plane that the samples of colour are in */
const standardOf = (tally: PlaneTally, luma: PlaneTally, isLuma: boolean): Standard => {
  if (isLuma) return OF_LUMA;
  const ways = waysApart(tally, luma);
  return { ...OF_COLOUR, smeared: OF_LUMA.smeared - (ways / 2) * (OF_LUMA.smeared - SMEARED_APART) };
};

/** Where a sample of a plane lies in luma. */
const inLuma = (s: Suspect, p: number, tallies: readonly PlaneTally[]): { x: number; y: number } => ({
  x: s.x * Math.round(tallies[0].width / tallies[p].width),
  y: s.y * Math.round(tallies[0].height / tallies[p].height),
});
/** Neighbours of a dot that a lens drew carry more than this share of its contrast in luma. */
const NO_LENS = 0.15;
/** A place this little above black, fraction of range, that is darker than its surroundings gives nothing at all. */
const NEAR_BLACK = 0.08;
/** A pixel that varies this much less than what passes over it is stuck. */
const STUCK_SHARE = 0.35;

interface Fault extends PixelFault {
  readonly strength: number;
}

/** What one plane of suspects came to. */
interface Sorted {
  readonly found: Fault[];
  readonly doubted: UncertainPlace[];
  /** What a lens may have drawn too, were it a dot of the scene as others are; and such dots. */
  readonly likely: Fault[];
  readonly dots: Place[];
  /** What stays put where the camera carries the scene, and detail that does. */
  readonly staying: Fault[];
  readonly detail: Place[];
}

/**
 * Decides which suspects are faults of the sensor, and joins what one fault left in several planes.
 * @param unevenness of each plane: standard deviation of what stays put in flat places, fraction of range
 * @returns the faults, the places that cannot be told from the scene with the reason, and the share of suspects over which
 * the scene passed
 */
export const judgeSuspects = (
  suspects: readonly Map<number, Suspect>[],
  tallies: readonly PlaneTally[],
  looked: number,
  clip: ClipFacts,
  carried: Carried,
  unevenness: readonly number[],
): { pixels: PixelFault[]; uncertain: UncertainPlace[]; moved: number } => {
  const planes = { tallies, clip };
  const luma = suspects[0] ? [...suspects[0].values()] : [];
  const sorted: Sorted = { found: [], doubted: [], likely: [], dots: [], staying: [], detail: [] };
  const { found, doubted, likely, staying } = sorted;
  const placesOf = placesSeenBy(carried);
  suspects.forEach((plane, p) =>
    sortPlane(plane, p, planes, { looked, carried, placesOf, unevenness: unevenness[p] }, sorted),
  );
  const doubt = (places: readonly Place[], because: string): void =>
    void doubted.push(...places.map(({ x, y }) => ({ x, y, because })));
  const dots = eachOnce(sorted.dots);
  if (mayBeChance(eachOnce([...found, ...likely]), dots)) doubt(likely, ONE_OF_MANY);
  else found.push(...likely);
  // Detail may be thousands of places: nobody asks for it where nothing stays among it.
  const detail = staying.length > 0 ? eachOnce(sorted.detail) : [];
  const expected = Math.max(EXPECTED, usualNumber(detail, clip));
  const [still, stuck] = parted(staying, (fault) => isAmong(fault, detail, clip, expected, STILL_WITHIN));
  doubt(still, STANDS_STILL);
  found.push(...stuck);
  found.sort((a, b) => b.strength - a.strength || a.y - b.y || a.x - b.x);
  const pixels = eachOnce(found).sort(inReadingOrder);
  const uncertain = eachOnce(doubted.sort(inReadingOrder).filter((place) => !pixels.some(isOneWith(place))));
  const moved = luma.length === 0 ? 0.5 : luma.filter((s) => passedOver(s, carried)).length / luma.length;
  return { pixels: pixels.map(({ strength: _, ...fault }) => fault), uncertain, moved };
};

/** Those of which something holds, and the others. */
const parted = <T>(all: readonly T[], holds: (one: T) => boolean): readonly [T[], T[]] => [
  all.filter(holds),
  all.filter((one) => !holds(one)),
];

/** Whether the ground about a place changed as it does where the scene passes. */
const passedOver = (s: Suspect, { moved }: Carried): boolean =>
  spread(s.around, s.aroundSquares, s.frames) > (moved ? SCENE_MOVED : SUBJECT_PASSED);

const sortPlane = (
  plane: ReadonlyMap<number, Suspect>,
  p: number,
  planes: Planes,
  {
    looked,
    carried,
    placesOf,
    unevenness,
  }: {
    readonly looked: number;
    readonly carried: Carried;
    readonly placesOf: (s: Suspect) => number;
    readonly unevenness: number;
  },
  { found, doubted, likely, dots, staying, detail }: Sorted,
): void => {
  const { tallies, clip } = planes;
  const list = [...plane.values()].filter((s) => s.frames >= 2);
  const isLuma = p === 0 || clip.matrix === 'rgb';
  const { width, height } = tallies[p];
  // No place of the picture stands out like this by the sensor's ordinary unevenness.
  const ordinary = sigmasBeyondAll(width * height) * unevenness;
  const standard = standardOf(tallies[p], tallies[0], isLuma);
  const shapeOf = (s: Suspect): Shape => {
    if (isLuma && shareBeside(s) <= NO_LENS) return 'sample';
    return isPhotosite(s, p, planes) ? 'site' : 'drawn';
  };
  const evidenceOf = weigh(list, {
    shapeOf,
    isWhole: waysApart(tallies[p], tallies[0]) === 0,
    isPhotosite: (s) => isPhotosite(s, p, planes),
    isTinted: (s) => isTinted(s, p, planes),
  });
  const isSite = (s: Suspect): boolean => isPhotosite(s, p, planes, PASSING);
  const likeIt = numberOfItsLike(list, plane.size, [isOnEvenGround, isSite]);
  for (const s of list) {
    const tested = carried.moved || passedOver(s, carried);
    if (Math.abs(s.contrast / s.frames) < leastContrast(s, standard, ordinary, tested)) continue;
    if (shareBeside(s) > standard.smeared) continue;
    const fault = describe(s, p, planes, looked);
    if (!addsUp(fault) || isOfTheOther(fault, p)) continue;
    // A whole pixel shows in luma, a photosite in its colour: what is seen in colour alone, and is of none, a lens drew.
    if (!isLuma && fault.channel === 'luma') continue;
    if (carried.moved) {
      if (staysPut(s, placesOf(s), likeIt(s)) && (isSite(s) || !cameToLieThere(s)))
        (isOnPassingGround(s) ? staying : detail).push(fault);
      continue;
    }
    if (roundnessOf(s) < ROUND) continue;
    if (tested) {
      // Mostly its surroundings stood as still.
      if (isolationOf(s) >= OUT_OF_STILL) found.push(fault);
      continue;
    }
    const evidence = evidenceOf(s, fault.channel !== 'luma', fault.channel === CHANNEL_OF_PLANE[p]);
    if (!evidence.told) {
      if (isolationOf(s) >= OUT_OF_STILL) dots.push(fault);
      doubted.push({ x: fault.x, y: fault.y, because: evidence.because });
    } else if (shapeOf(s) === 'sample') found.push(fault);
    else likely.push(fault);
  }
};

/**
 * How many there are of the kind of a suspect: of the first that it is of. Each kind is counted once, and only where one is of it.
 * @param others how many there are in all, for those of no kind
 */
const numberOfItsLike = (
  all: readonly Suspect[],
  others: number,
  kinds: readonly ((s: Suspect) => boolean)[],
): ((s: Suspect) => number) => {
  const counts: number[] = [];
  return (s) => {
    const kind = kinds.findIndex((isOfIt) => isOfIt(s));
    return kind < 0 ? others : (counts[kind] ??= all.filter(kinds[kind]).length);
  };
};

/** How many places the camera pointed to since a suspect was looked at, the same for all that were looked at as often. */
const placesSeenBy = ({ pointed }: Carried): ((s: Suspect) => number) => {
  const known = new Map<number, number>();
  return ({ frames }) => {
    const places = known.get(frames) ?? placesIn(pointed, frames, SAME_PLACE_PX);
    known.set(frames, places);
    return places;
  };
};

const ONE_OF_MANY = 'among so many dots of the scene one or two look like it';
/** Water or leaves that move may be followed in place of a camera that is held: what stands still then does so this near, px. */
const STILL_WITHIN = 40;
const STANDS_STILL = 'the scene about it stands still';

const inReadingOrder = (a: Place, b: Place): number => a.y - b.y || a.x - b.x;

/** A photosite that is hot adds light, one that is dead takes it; a fleck of colour that does neither is of the scene. */
const addsUp = ({ kind, contrastPct }: Fault): boolean =>
  kind === 'hot' ? contrastPct > 0 : kind === 'dead' ? contrastPct < 0 : true;

/** What one plane of colour shows of a fault of the other's colour is its small remainder: the other shows the fault itself. */
const isOfTheOther = ({ channel }: Fault, p: number): boolean => p > 0 && channel === CHANNEL_OF_PLANE[3 - p];

const leastContrast = (
  s: Suspect,
  { leastContrast: least, leastContrastStill: leastStill }: Standard,
  ordinary: number,
  tested: boolean,
): number => Math.max(tested || isolationOf(s) >= OUT_OF_STILL ? least : leastStill, ordinary);

const describe = (s: Suspect, p: number, planes: Planes, looked: number): Fault => {
  const { tallies, clip } = planes;
  const { x, y } = inLuma(s, p, tallies);
  const rgb = rgbContrast(s, planes);
  const channel = channelOf(rgb, p);
  const contrast = channel === 'luma' ? s.contrast / s.frames : rgb[channel];
  const tally = s.bright ? tallies[p].above : tallies[p].below;
  return {
    x,
    y,
    kind: p > 0 && channel !== 'luma' && contrast < 0 ? 'dead' : kindOf(s, p, clip),
    channel,
    contrastPct: Math.round(1e4 * contrast) / 100,
    seenPct: Math.round((1e3 * Math.max(tally[s.index] / looked, s.stoodOut / s.frames)) / 1) / 10,
    strength: Math.abs(s.contrast / s.frames) * (p === 0 ? 2 : 1),
  };
};

/**
 * What kind of fault a suspect is.
 * @param plane 0 for luma and green, else a colour
 */
export const kindOf = (
  s: Suspect,
  plane: number,
  clip: Pick<ClipFacts, 'bitDepth' | 'range'>,
): PixelFault['kind'] => {
  const { black, span } = lumaScale(clip);
  if (!s.bright && plane === 0 && s.value / s.frames < NEAR_BLACK + black / span) return 'dead';
  const background = spread(s.around, s.aroundSquares, s.frames);
  const own = spread(s.value, s.valueSquares, s.frames);
  if (background > SCENE_MOVED && own < STUCK_SHARE * background) return 'stuck';
  return s.bright || plane > 0 ? 'hot' : 'dead';
};
