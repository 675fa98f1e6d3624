import type { Plane } from '../picture/frame.js';
import { lumaScale, planeScale } from '../picture/signal.js';
import { codeOf, type Picture, type Sequence } from '../treatments/sequence.js';

/** Row bands in which light may differ. */
const BANDS = 30;

/**
 * The frame before a repair in the light of the frame after it: a repair that was asked to change the light is not to blame
 * for that. A factor for each row band, straight between their middles.
 */
export const inLightOf = (before: Picture, after: Picture, clip: Sequence['clip']): Picture => {
  const { black, top } = lumaScale(clip);
  const factors = factorsOf(before.planes[0], after.planes[0], black);
  return {
    planes: before.planes.map((plane, p) => {
      const zero = planeScale(clip, p).black;
      const { width, height, samples } = plane;
      const out = samples.slice();
      for (let y = 0; y < height; y++) {
        const at = Math.max(0, Math.min(BANDS - 1, ((y + 0.5) / height) * BANDS - 0.5));
        const low = Math.min(BANDS - 2, Math.floor(at));
        const factor = factors[low] + (factors[low + 1] - factors[low]) * (at - low);
        for (let i = y * width, end = i + width; i < end; i++)
          out[i] = codeOf(zero + (samples[i] - zero) * factor, top);
      }
      return { width, height, samples: out };
    }),
  };
};

const factorsOf = (before: Plane, after: Plane, black: number): Float64Array => {
  const { width, height } = before;
  return Float64Array.from({ length: BANDS }, (_, band) => {
    let [was, is] = [0, 0];
    for (let y = Math.floor((band * height) / BANDS); y < Math.floor(((band + 1) * height) / BANDS); y++)
      for (let i = y * width, end = i + width; i < end; i++) {
        was += before.samples[i] - black;
        is += after.samples[i] - black;
      }
    return was > 0 && is > 0 ? is / was : 1;
  });
};
