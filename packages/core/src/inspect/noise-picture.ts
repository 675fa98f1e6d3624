import type { ClipFacts } from '#document';
import { motionBetween } from '../measures/noise/pair.js';
import { carry } from '../motion/similarity.js';
import type { Plane } from '../picture/frame.js';
import { lumaScale } from '../picture/signal.js';

/**
 * The noise with the picture taken out: the difference of two registered neighbouring frames over √2, about a middle
 * grey. What moves on its own stands out too: it is not noise, and is to be seen as such.
 * @param gain how many times the difference is amplified
 * @param out RGBA, four bytes a pixel
 * @returns whether the frames could be registered; where not, they are set one over the other as they are
 */
export const paintNoise = (
  [first]: readonly Plane[],
  [second]: readonly Plane[],
  facts: Pick<ClipFacts, 'bitDepth' | 'range'>,
  gain: number,
  out: Uint8ClampedArray,
): boolean => {
  const { width, height, samples } = first;
  const { span } = lumaScale(facts);
  const { motion, sure } = motionBetween(first, second);
  const k = (255 * gain) / span / Math.SQRT2;
  for (let y = 0, o = 0; y < height; y++)
    for (let x = 0; x < width; x++, o += 4) {
      const to = carry(motion, x, y, width, height);
      const ix = Math.max(0, Math.min(width - 2, Math.floor(to.x)));
      const iy = Math.max(0, Math.min(height - 2, Math.floor(to.y)));
      const fx = Math.max(0, Math.min(1, to.x - ix));
      const fy = Math.max(0, Math.min(1, to.y - iy));
      const i = iy * width + ix;
      const s = second.samples;
      const there =
        (s[i] * (1 - fx) + s[i + 1] * fx) * (1 - fy) + (s[i + width] * (1 - fx) + s[i + width + 1] * fx) * fy;
      out[o] = out[o + 1] = out[o + 2] = 127.5 + (samples[y * width + x] - there) * k;
      out[o + 3] = 255;
    }
  return sure;
};
