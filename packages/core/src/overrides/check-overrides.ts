import { boxAbout, type Box, type ClipFacts, type Overrides } from '#document';
import { CubeUnusable, transformOf } from '../picture/viewing.js';

/** Edge of the smallest place that can be measured, px. */
const LEAST_PX = 4;

/**
 * What is wrong with a technician's overrides for this clip.
 * @returns a sentence that says what and what to do, or `null` where nothing is
 */
export const whyUnusable = (overrides: Overrides, facts: ClipFacts): string | null => {
  const { range, noisePatch, interest, masks = [], viewing } = overrides;
  if (range && range.startFrame >= facts.frames)
    return `the in point, frame ${range.startFrame}, lies behind the last frame, ${facts.frames - 1}. Choose an earlier one.`;
  const places: [string, Box | undefined][] = [
    ['the flat patch', noisePatch],
    ['the region of interest', interest],
    ...masks.map((m, i): [string, Box] => [`mask ${i + 1}`, boxAbout(m.shape)]),
  ];
  for (const [name, box] of places) {
    if (!box) continue;
    if (box.width < LEAST_PX || box.height < LEAST_PX)
      return `${name} is smaller than ${LEAST_PX} × ${LEAST_PX} pixels. Draw it larger.`;
    if (box.x >= facts.width || box.y >= facts.height || box.x + box.width <= 0 || box.y + box.height <= 0)
      return `${name} lies outside the picture of ${facts.width} × ${facts.height} pixels. Draw it again.`;
  }
  if (!viewing) return null;
  try {
    transformOf(viewing, facts.transfer);
    return null;
  } catch (error) {
    if (error instanceof CubeUnusable) return error.message;
    throw error;
  }
};
