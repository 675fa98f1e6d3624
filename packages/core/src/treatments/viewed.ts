import type { ClipFacts, ViewingTransform } from '#terms';
import type { Plane } from '../picture/frame.js';
import { lumaScale, lumaWeights } from '../picture/signal.js';
import { transformOf } from '../picture/viewing.js';

/** Levels that the curve of a viewing transform is kept for: finer than any depth that is looked at. */
const LEVELS = 4096;
/** A curve this flat shows nothing: what was taken there is taken as it stands. */
const FLAT = 0.05;

/** Luma as a viewing transform shows it, and changes of it brought back to what is stored. */
export interface Viewed {
  /** Luma in codes, with fractions, as it is shown. */
  shown(plane: Plane): Float32Array;
  /** What was taken from shown luma, as what is taken from stored luma; changed in place. */
  stored(taken: Float32Array, plane: Plane): void;
}

/**
 * The curve that a technician's viewing transform draws for grey.
 * @throws {CubeUnusable}
 */
export const viewedThrough = (viewing: ViewingTransform, clip: ClipFacts): Viewed => {
  const transform = transformOf(viewing, clip.transfer);
  const { kr, kb } = lumaWeights(clip.matrix);
  const { black, span } = lumaScale(clip);
  const curve = Float32Array.from({ length: LEVELS + 1 }, (_, i) => {
    const v = i / LEVELS;
    const [r, g, b] = transform([v, v, v]);
    return kr * r + (1 - kr - kb) * g + kb * b;
  });
  const at = (code: number): number =>
    curve[Math.max(0, Math.min(LEVELS, Math.round((LEVELS * (code - black)) / span)))];
  const slope = (code: number): number => {
    const i = Math.max(8, Math.min(LEVELS - 8, Math.round((LEVELS * (code - black)) / span)));
    return ((curve[i + 8] - curve[i - 8]) * LEVELS) / 16;
  };
  return {
    shown: ({ samples }) => {
      // A loop: `from` with a function takes forty times as long.
      const shown = new Float32Array(samples.length);
      for (let i = 0; i < shown.length; i++) shown[i] = black + span * at(samples[i]);
      return shown;
    },
    stored: (taken, { samples }) => {
      for (let i = 0; i < taken.length; i++) {
        const k = slope(samples[i]);
        if (k > FLAT) taken[i] /= k;
      }
    },
  };
};
