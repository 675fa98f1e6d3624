import type { Box, ClipFacts, Overrides, Shape } from '#terms';
import { scaleOf, type Placement } from './placement.js';

/**
 * What a technician decided on an original, as it holds for a repaired file: places follow the crop, frames the offset. What
 * the repaired file does not show any more is left out.
 */
export const carriedOverrides = (
  overrides: Overrides,
  { placement, offset }: { readonly placement: Placement; readonly offset: number },
  original: Pick<ClipFacts, 'width' | 'height'>,
  repaired: Pick<ClipFacts, 'width' | 'height' | 'frames'>,
): Overrides => {
  const { range, noisePatch, interest, masks, ...rest } = overrides;
  const point = (x: number, y: number): [number, number] => {
    const { a, b, dx, dy } = placement;
    const [u, v] = [x - (original.width - 1) / 2, y - (original.height - 1) / 2];
    return [(repaired.width - 1) / 2 + a * u - b * v + dx, (repaired.height - 1) / 2 + b * u + a * v + dy];
  };
  const scale = scaleOf(placement);
  const box = ({ x, y, width, height }: Box): Box => {
    const [cx, cy] = point(x + width / 2, y + height / 2);
    const left = Math.max(0, Math.round(cx - (scale * width) / 2));
    const top = Math.max(0, Math.round(cy - (scale * height) / 2));
    return {
      x: left,
      y: top,
      width: Math.min(repaired.width, Math.round(cx + (scale * width) / 2)) - left,
      height: Math.min(repaired.height, Math.round(cy + (scale * height) / 2)) - top,
    };
  };
  const shape = (of: Shape): Shape =>
    of.kind === 'rectangle'
      ? { ...of, ...box(of) }
      : { ...of, points: of.points.map(([x, y]) => point(x, y).map(Math.round) as [number, number]) };
  const frame = (at: number): number => Math.max(0, Math.min(repaired.frames - 1, at - offset));
  const shows = ({ width, height }: Box): boolean => width >= LEAST_PX && height >= LEAST_PX;
  const [patch, inside] = [noisePatch && box(noisePatch), interest && box(interest)];
  const carried = masks?.map(({ frames, ...mask }) => ({
    ...mask,
    shape: shape(mask.shape),
    ...(frames && { frames: { startFrame: frame(frames.startFrame), endFrame: frame(frames.endFrame) } }),
  }));
  return {
    ...rest,
    ...(range && { range: { startFrame: frame(range.startFrame), endFrame: frame(range.endFrame) } }),
    ...(patch && shows(patch) && { noisePatch: patch }),
    ...(inside && shows(inside) && { interest: inside }),
    ...(carried && { masks: carried }),
  };
};

/** A place that is smaller shows nothing that could be measured. */
const LEAST_PX = 4;
