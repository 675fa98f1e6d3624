import type { ClipFacts } from '#terms';
import type { Plane } from '../picture/frame.js';
import { lumaWeights, planeScale } from '../picture/signal.js';
import { blurred } from './blur.js';

/** Gaussians that part what is taken away: finer than the first (about 1 px), coarser than the second (4 px and more). */
const FINE_SIGMA = 0.8;
const COARSE_SIGMA = 1.8;
/** Over this Gaussian it is told whether more was taken away than noise has. */
const LOCAL_SIGMA = 2.5;

/** How much of each size of what was taken away is taken, 0–1. */
export interface SizeShares {
  readonly fine: number;
  readonly medium: number;
  readonly coarse: number;
}

/** What was taken from a plane, codes; changed in place. */
export type Taken = Pick<Plane, 'width' | 'height'> & { readonly samples: Float32Array };

/** Takes a share of each size of what was taken away. */
export const bySize = (taken: Taken, { fine, medium, coarse }: SizeShares): void => {
  if (fine === 1 && medium === 1 && coarse === 1) return;
  const softer = blurred(taken, FINE_SIGMA);
  const softest = blurred(taken, COARSE_SIGMA);
  const { samples } = taken;
  for (let i = 0; i < samples.length; i++)
    samples[i] = fine * (samples[i] - softer[i]) + medium * (softer[i] - softest[i]) + coarse * softest[i];
};

/**
 * Puts back what was taken beyond the power that noise has, place by place: picture. Of what holds both, the share that is
 * likely picture (Wiener).
 * @param sigma standard deviation of the noise, codes
 * @param keep 0–1: how much of it must stay
 */
export const keepDetail = (taken: Taken, sigma: number, keep: number): void => {
  if (keep === 0) return;
  const { width, height, samples } = taken;
  const power = blurred({ width, height, samples: samples.map((v) => v * v) }, LOCAL_SIGMA);
  const noise = sigma * sigma;
  for (let i = 0; i < samples.length; i++)
    if (power[i] > noise) samples[i] *= 1 - keep * (1 - noise / power[i]);
};

/** How much of each channel of what was taken away is taken, 0–1. */
export interface ChannelShares {
  readonly red: number;
  readonly green: number;
  readonly blue: number;
}

/**
 * Takes a share of red, green and blue of what was taken away. Where luma and colour differences are stored apart, these are
 * put together for it and parted again (ITU-R BT.601-7, BT.709-6, BT.2020-2); what lies between samples of colour is taken
 * from the next.
 * @param planes as the feed delivers them: Y Cb Cr, or G B R
 */
export const byChannel = (planes: readonly Taken[], clip: ClipFacts, shares: ChannelShares): void => {
  const { red, green, blue } = shares;
  if ((red === 1 && green === 1 && blue === 1) || planes.length < 3) return;
  if (clip.matrix === 'rgb') {
    [green, blue, red].forEach((share, p) => {
      for (let i = 0; i < planes[p].samples.length; i++) planes[p].samples[i] *= share;
    });
    return;
  }
  const { kr, kb } = lumaWeights(clip.matrix);
  const kg = 1 - kr - kb;
  const [luma, cb, cr] = planes;
  const spans = [planeScale(clip, 0).span, planeScale(clip, 1).span];
  const shared = (y: number, b: number, r: number): [y: number, b: number, r: number] => {
    const [redTaken, blueTaken] = [y + 2 * (1 - kr) * r, y + 2 * (1 - kb) * b];
    const greenTaken = (y - kr * redTaken - kb * blueTaken) / kg;
    const [R, G, B] = [red * redTaken, green * greenTaken, blue * blueTaken];
    const Y = kr * R + kg * G + kb * B;
    return [Y, (B - Y) / (2 * (1 - kb)), (R - Y) / (2 * (1 - kr))];
  };
  const [kx, ky] = [Math.round(luma.width / cb.width), Math.round(luma.height / cb.height)];
  const [ys, bs, rs] = [luma.samples.slice(), cb.samples.slice(), cr.samples.slice()];
  for (let y = 0, i = 0; y < luma.height; y++)
    for (let x = 0; x < luma.width; x++, i++) {
      const c =
        Math.min(cb.height - 1, Math.floor(y / ky)) * cb.width + Math.min(cb.width - 1, Math.floor(x / kx));
      luma.samples[i] = spans[0] * shared(ys[i] / spans[0], bs[c] / spans[1], rs[c] / spans[1])[0];
    }
  for (let y = 0, c = 0; y < cb.height; y++)
    for (let x = 0; x < cb.width; x++, c++) {
      let [sum, count] = [0, 0];
      for (let v = 0; v < ky; v++)
        for (let u = 0; u < kx; u++) {
          const [px, py] = [kx * x + u, ky * y + v];
          if (px >= luma.width || py >= luma.height) continue;
          sum += ys[py * luma.width + px];
          count++;
        }
      const [, b, r] = shared(sum / Math.max(1, count) / spans[0], bs[c] / spans[1], rs[c] / spans[1]);
      cb.samples[c] = spans[1] * b;
      cr.samples[c] = spans[1] * r;
    }
};
