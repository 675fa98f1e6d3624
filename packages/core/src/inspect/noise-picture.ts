import { bilinearWithin } from '../maths/bilinear.js';
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
      const there = bilinearWithin(second.samples, width, height, to.x, to.y);
      out[o] = out[o + 1] = out[o + 2] = 127.5 + (samples[y * width + x] - there) * k;
      out[o + 3] = 255;
    }
  return sure;
};
