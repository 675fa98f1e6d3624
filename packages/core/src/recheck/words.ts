import type { Finding } from '#document';
import { rounded } from '../maths/round.js';

/** A figure as a sentence says it. */
export const shown = (value: number): string => String(rounded(value, Math.abs(value) < 10 ? 2 : 1));
/** A reading with its unit, or that there is none. */
export const withUnit = (value: number | null, unit: string): string =>
  value === null ? 'not measurable' : `${shown(value)} ${unit}`.trim();
/** A sentence that begins with a small letter, as its own. */
export const cap = (text: string): string => text.charAt(0).toUpperCase() + text.slice(1);

/** Where to look at a finding. */
export const placeOf = ({ startFrame, endFrame, regions }: Finding): string => {
  const frames = regions.length > 0 ? regions[0] : { startFrame, endFrame };
  return ` Look at frame ${Math.round((frames.startFrame + frames.endFrame) / 2)}.`;
};
