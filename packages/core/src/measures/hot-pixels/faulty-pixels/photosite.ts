import type { ClipFacts } from '#terms';
import { lumaScale, lumaWeights, toLinearLight } from '../../../picture/signal.js';
import { contrastInPlane } from './in-planes.js';
import type { PlaneTally } from './impulses.js';
import { isolationOf, lopsidednessOf } from './isolation.js';
import { besideOf, shareBeside, type Suspect } from './suspect.js';
import type { PixelFault } from './values.js';

/** What is known of the planes of a clip. */
export interface Planes {
  readonly tallies: readonly PlaneTally[];
  readonly clip: ClipFacts;
}

export type Rgb = Record<'red' | 'green' | 'blue', number>;

/** What most of a plane is made of: luma or green, difference to blue or blue, difference to red or red. */
export const CHANNEL_OF_PLANE = ['green', 'blue', 'red'] as const;

/** Ways in which the samples of a plane stand further apart than those of luma: none, along rows, or both. */
export const waysApart = (tally: PlaneTally, luma: PlaneTally): number =>
  Number(tally.width < luma.width) + Number(tally.height < luma.height);

/** Contrast of red, green and blue, with what chroma subsampling spread over its neighbours gathered up again. */
export const rgbContrast = (s: Suspect, { tallies, clip }: Planes): Rgb => {
  const at = (p: number): number =>
    tallies[p]
      ? (contrastInPlane(s, p) * tallies[0].width * tallies[0].height) /
        (tallies[p].width * tallies[p].height)
      : 0;
  if (clip.matrix === 'rgb') return { green: at(0), blue: at(1), red: at(2) };
  const { kr, kb } = lumaWeights(clip.matrix);
  const [luma, cb, cr] = [at(0), at(1), at(2)];
  const red = luma + 2 * (1 - kr) * cr;
  const blue = luma + 2 * (1 - kb) * cb;
  return { red, blue, green: (luma - kr * red - kb * blue) / (1 - kr - kb) };
};

/**
 * Whether one channel rises where both others fall, or the other way round: chroma of one photosite was spread over more samples
 * than were gathered up again, and takes more from them than there is.
 */
const isAlone = (rgb: Rgb, channel: keyof Rgb): boolean =>
  CHANNEL_OF_PLANE.every((c) => c === channel || rgb[c] * rgb[channel] < 0);

/**
 * One channel is named when it carries most of the contrast; otherwise the fault shows in luma.
 * @param plane that the place stands out in: what luma shows is of one channel, too, where that goes its way alone
 */
export const channelOf = (rgb: Rgb, plane: number): PixelFault['channel'] => {
  const [most, ...others] = CHANNEL_OF_PLANE.toSorted((a, b) => Math.abs(rgb[b]) - Math.abs(rgb[a]));
  const isMost = Math.abs(rgb[most]) > 2 * Math.abs(rgb[others[0]]);
  return isMost || (plane === 0 && isAlone(rgb, most)) ? most : 'luma';
};

/**
 * Share of a photosite's colour in the samples beside it, by the ways in which they stand apart: a mosaic, interpolated,
 * leaves a half, and means over two or four samples leave a third or a sixth of that.
 */
const OF_MOSAIC = [1 / 2, 1 / 3, 1 / 6];
/** Of green, of which there are twice as many, it leaves a quarter. */
const OF_GREEN_MOSAIC = 1 / 4;
/** A filter for colour and a codec leave this much more. */
const OF_CODEC = 1 / 6;

/** One photosite is of one colour: by what share of it another may rise with it. */
export interface Tolerance {
  readonly withRedOrBlue: number;
  readonly withGreen: number;
}
/** Where everything stands still the means are exact, and chroma takes from red and blue what green adds; … */
const STILL: Tolerance = { withRedOrBlue: 0.05, withGreen: 0 };
/** … what the camera carried over a place leaves a little of all colours on them. */
export const PASSING: Tolerance = { withRedOrBlue: 0.2, withGreen: 0.2 };
/** And by what share another may fall: chroma of one sample that stands for several takes from the others what they never had. */
const AGAINST_IT = 0.4;
/** Green is two thirds of luma: chroma takes a third of it from both others, and where a codec took most of that away still this share. */
const WANTING = 0.04;
/** How far green may spill into the samples beside it beyond a quarter, … */
const SPILL = 0.1;
/** … and its two sides differ, of how uneven the ground about it is. Both count together. */
const SIDES_DIFFER = 0.2;
/** Where one sample stands for several, a photosite lies to one side of its middle, the same in all: so lopsided it is at most. */
const APART = 0.7;

/** The other two colours, each as a share of a plane's own. */
const sharesOf = (s: Suspect, p: number, planes: Planes): [number, number] => {
  const rgb = rgbContrast(s, planes);
  const channel = CHANNEL_OF_PLANE[p];
  const [a, b] = CHANNEL_OF_PLANE.filter((c) => c !== channel);
  return [rgb[a] / rgb[channel], rgb[b] / rgb[channel]];
};

/**
 * Whether a place is of the colour of its plane: of that one more than of both others, in green where they fall as it rises.
 * @param p the plane that it stands out in
 */
export const isTinted = (s: Suspect, p: number, planes: Planes, { withGreen } = STILL): boolean => {
  if (p > 0) return channelOf(rgbContrast(s, planes), p) === CHANNEL_OF_PLANE[p];
  const [a, b] = sharesOf(s, p, planes);
  return Math.max(a, b) <= withGreen && a + b <= -2 * WANTING;
};

/**
 * Whether a place looks in every way as one photosite of its plane's colour does: one colour alone, smeared as far as a mosaic
 * smears it and no further, and to all sides alike. A dot that a lens drew is spread further, lies anywhere, or is of a colour that
 * light has: some of the others with it.
 * @param p the plane that it stands out in
 */
export const isPhotosite = (s: Suspect, p: number, planes: Planes, tolerance = STILL): boolean => {
  if (p === 0) return isTinted(s, p, planes, tolerance) && isGreenSite(s, planes.clip);
  const ways = waysApart(planes.tallies[p], planes.tallies[0]);
  return (
    sharesOf(s, p, planes).every((share) => share <= tolerance.withRedOrBlue && share >= -AGAINST_IT) &&
    shareBeside(s) <= OF_MOSAIC[ways] + OF_CODEC &&
    lopsidednessOf(s) <= APART
  );
};

const isGreenSite = (s: Suspect, clip: ClipFacts): boolean => {
  const spill = Math.max(0, Math.min(shareBeside(s), lightBeside(s, clip)) - OF_GREEN_MOSAIC);
  return Math.hypot(spill / SPILL, (lopsidednessOf(s) * isolationOf(s)) / SIDES_DIFFER) <= 1;
};

/** Share of a place's light in the samples beside it, were it green alone on ground without colour: most mosaics are filled in in linear light. All of it on black. */
const lightBeside = (s: Suspect, clip: ClipFacts): number => {
  const { black, span } = lumaScale(clip);
  const { kr, kb } = lumaWeights(clip.matrix);
  const ground = s.around / s.frames - black / span;
  const light = (above: number): number =>
    toLinearLight(Math.min(1, ground + above / (clip.matrix === 'rgb' ? 1 : 1 - kr - kb)), clip.transfer);
  const own = light(s.contrast / s.frames) - light(0);
  return own === 0 ? 1 : (light(besideOf(s)) - light(0)) / own;
};
