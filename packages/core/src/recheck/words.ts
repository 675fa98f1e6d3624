import type { Finding } from '#document';
import { rounded } from '../maths/round.js';

/** A figure as a sentence says it. */
export const shown = (value: number): string => String(rounded(value, Math.abs(value) < 10 ? 2 : 1));
/** A reading with its unit, or that there is none. */
export const withUnit = (value: number | null, unit: string): string =>
  value === null ? 'not measurable' : `${shown(value)} ${unit}`.trim();
/** A sentence that begins with a small letter, as its own. */
export const cap = (text: string): string => text.charAt(0).toUpperCase() + text.slice(1);

/** The frames in which a finding is looked at: those of its first place, or all of them. */
export const framesOf = ({
  startFrame,
  endFrame,
  regions,
}: Finding): { readonly startFrame: number; readonly endFrame: number } =>
  regions.length > 0
    ? { startFrame: regions[0].startFrame, endFrame: regions[0].endFrame }
    : { startFrame, endFrame };

/** The frame at which a finding is looked at. */
export const frameOf = (finding: Finding): number => {
  const { startFrame, endFrame } = framesOf(finding);
  return Math.round((startFrame + endFrame) / 2);
};

/**
 * A frame of the repaired file as a sentence names it, and where the original shows the same, if that is another number.
 * @param offset the original's frame that the repaired file begins with
 */
export const frameNamed = (frame: number, offset: number): string =>
  offset === 0 ? `frame ${frame}` : `frame ${frame} (${frame + offset} of the original)`;

/** Where to look at a finding: the page goes to the same frame. */
export const placeOf = (finding: Finding, offset: number): string =>
  ` Look at ${frameNamed(frameOf(finding), offset)}.`;
