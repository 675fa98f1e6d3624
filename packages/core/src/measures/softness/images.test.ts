import { expect } from 'chai';
import { normal, seeded } from '@bevrin/rig';
import { bilinear } from '../../maths/bilinear.js';
import type { Plane } from '../../picture/frame.js';
import { ImageFinder } from './images.js';

const [WIDTH, HEIGHT] = [480, 270];
const random = seeded(11);
const ROW = WIDTH + 4;
const grains = Float32Array.from({ length: ROW * (HEIGHT + 4) }, () => 40 * random());
/** Blobs of a few pixels each, without a period. */
const blobs = grains.map((g, i) => 60 + g + grains[i + 1] + grains[i + ROW] + grains[i + ROW + 1]);
const scene = (x: number, y: number): number => blobs[y * ROW + x];
const pictureOf = (at: (x: number, y: number) => number, noise = 0): Plane => ({
  width: WIDTH,
  height: HEIGHT,
  samples: Uint8Array.from({ length: WIDTH * HEIGHT }, (_, i) =>
    Math.round(at(i % WIDTH, Math.floor(i / WIDTH)) + noise * normal(random)),
  ),
});
/** Each sample lies between those of a small picture: nothing of them beyond the two beside it (linear). */
const linear = (scale: number) => (x: number, y: number) =>
  bilinear(blobs, ROW, (x + 0.5) * scale, (y + 0.5) * scale);
const gainOf = (plane: Plane, scale: number): number => {
  const finder = new ImageFinder();
  finder.take(plane);
  return finder.gain(scale);
};
const sinc = (x: number): number => Math.sin(Math.PI * x) / (Math.PI * x);

describe('the images of a small picture in an enlarged one', () => {
  it('follow it as the interpolation lets them through', () => {
    for (const scale of [1 / 2, 0.4, 1 / 3]) {
      // The spectrum of a triangle, above the limit over below it, in the middle of the band that is looked at.
      const away = 0.035 / scale;
      const through = (sinc(0.5 + away) / sinc(0.5 - away)) ** 2;
      expect(gainOf(pictureOf(linear(scale)), scale), String(scale)).to.be.closeTo(through, 0.09);
    }
  });

  it('are not there where a picture is of its own size, or of another small one', () => {
    for (const scale of [1 / 2, 0.4, 1 / 3, 1 / 4]) {
      expect(gainOf(pictureOf(scene), scale), `native, ${scale}`).to.be.below(0.1);
      expect(gainOf(pictureOf(linear(2 / 3)), scale), `of two thirds, ${scale}`).to.be.below(0.1);
    }
    expect(gainOf(pictureOf(linear(1 / 2)), 1 / 3)).to.be.below(0.1);
  });

  it('are seen through noise of a code and a half', () => {
    expect(gainOf(pictureOf(linear(1 / 2), 1.5), 1 / 2)).to.be.above(0.3);
    expect(gainOf(pictureOf(scene, 1.5), 1 / 2)).to.be.below(0.1);
  });

  it('are not looked for where there is no picture, or one too small', () => {
    expect(new ImageFinder().gain(1 / 2)).to.equal(0);
    expect(gainOf({ width: 100, height: 100, samples: new Uint8Array(1e4) }, 1 / 2)).to.equal(0);
  });
});
