import { readFileSync } from 'node:fs';
import { expect } from 'chai';
import { seeded } from '@bevrin/rig';
import { kernels } from './kernels.js';
import { detailOf, detailOfPlain } from '../measures/softness/soft-frames.js';
import { powersAt, powersPlain } from '../measures/softness/carried-detail.js';
import { correlationAt } from '../motion/correlation.js';
import { followTile } from '../motion/tile.js';
import { followTiles } from '../motion/tiles.js';
import { STILL } from '../motion/similarity.js';
import {
  halve,
  halvePlain,
  smoothed,
  smoothedPlain,
  withoutLocalMean,
  withoutLocalMeanPlain,
  type Level,
} from '../picture/pyramid.js';
import { compileKernels, KERNELS, markOf } from '../../../../scripts/setup/compile-kernels.js';
import { inLongRuns } from '../../../../tests/support/share.js';

const BLACK = 4096;

/** Texture of many sizes, moved by a fraction of a pixel, with noise on it. */
const picture = (width: number, height: number, dx: number, dy: number, seed: number): Level => {
  const random = seeded(seed);
  const waves = Array.from({ length: 30 }, (_, k) => ({
    u: 0.9 * Math.sin(7.1 * k + 1),
    v: 0.9 * Math.cos(3.3 * k),
    power: 900 + 1500 * Math.abs(Math.sin(k)),
  }));
  return {
    width,
    height,
    samples: Float32Array.from({ length: width * height }, (_, i) => {
      const [x, y] = [(i % width) - dx, Math.floor(i / width) - dy];
      const light = waves.reduce((sum, w, k) => sum + w.power * Math.sin(w.u * x + w.v * y + k), 24000);
      return light + 300 * (random() - 0.5);
    }),
  };
};
const most = (a: Float32Array, b: Float32Array): number =>
  a.reduce((worst, v, i) => Math.max(worst, Math.abs(v - b[i])), 0);

describe('kernels', function () {
  this.timeout(60_000);

  for (const { source, target } of Object.values(KERNELS)) {
    it(`in ${target} say that they were compiled from the source that stands beside them`, async () => {
      expect(readFileSync(target, 'utf8'), 'run `npm run kernels`').to.contain(await markOf(source));
    });
    inLongRuns(`in ${target} are what the compiler makes of it`, async () => {
      expect(readFileSync(target, 'utf8') === (await compileKernels(source))).to.equal(true);
    });
  }

  for (const [width, height] of [
    [121, 67],
    [24, 24],
    [7, 5],
  ])
    it(`do to a picture of ${width}×${height} what is done plainly`, () => {
      const level = picture(width, height, 0.3, 0.7, 5);
      expect(most(halve(level).samples, halvePlain(level).samples)).to.be.lessThan(0.01);
      const [fast, plain] = [withoutLocalMean(level, 5), withoutLocalMeanPlain(level, 5)];
      expect(most(fast.samples, plain.samples)).to.be.lessThan(0.5);
      expect(most(smoothed(level).samples, smoothedPlain(level).samples)).to.be.lessThan(0.01);
      const [seen, expected] = [detailOf(level), detailOfPlain(level)];
      for (const key of ['x', 'y', 'middleX', 'middleY'] as const)
        expect(seen[key], key).to.be.closeTo(expected[key], 1e-4 * expected[key] + 1e-6);
    });

  it('sum the fine and coarse detail of a place as it is summed plainly', () => {
    const level = picture(61, 40, 0.3, 0.7, 5);
    const found = new Float64Array(4);
    for (const [x, y] of [
      [11, 11],
      [30, 20],
      [49, 28],
    ]) {
      powersAt(kernels.keep(level.samples), level.width, x, y, found);
      powersPlain(level, x, y).forEach((power, k) => expect(found[k]).to.be.closeTo(power, 1e-4 * power));
    }
  });

  it('follow tiles to where they are followed plainly, within a thousandth of a pixel', () => {
    const [a, b] = [picture(160, 90, 0, 0, 1), picture(160, 90, 1.37, -0.62, 2)];
    for (const slopesOf of ['both', 'first'] as const) {
      const tiles = followTiles(a, b, STILL, null, BLACK, slopesOf);
      expect(tiles.count).to.be.greaterThan(40);
      let compared = 0;
      for (let i = 0; i < tiles.count; i++) {
        const [left, top] = [tiles.x[i] - 6.5 + 79.5, tiles.y[i] - 6.5 + 44.5];
        const plain = followTile(a, b, left, top, 0, 0, BLACK, slopesOf);
        expect(tiles.found[i] === 1).to.equal(plain !== null);
        if (!plain) continue;
        compared++;
        expect(tiles.dx[i]).to.be.closeTo(plain.dx, 1e-3);
        expect(tiles.dy[i]).to.be.closeTo(plain.dy, 1e-3);
        expect(tiles.xx[i]).to.be.closeTo(plain.xx, 1e-3);
        expect(tiles.xy[i]).to.be.closeTo(plain.xy, 1e-3);
      }
      expect(compared).to.be.greaterThan(30);
    }
  });

  it('correlate a tile at every shift about one as it is done plainly, whatever its width', () => {
    const [a, b] = [picture(60, 40, 0, 0, 6), picture(64, 44, 1.4, -0.8, 7)].map((p) =>
      withoutLocalMean(p, 5),
    );
    for (const right of [22, 23, 25, 33]) {
      const [tile, reach] = [{ left: 12, right, top: 10, bottom: 27 }, 2];
      kernels.reserve(a.samples.length + b.samples.length + 2 * 25, 3);
      const [from, to, scores] = [kernels.put(a.samples), kernels.put(b.samples), kernels.room(2 * 25)];
      kernels.run.correlations(from, 60, to, 64, 12, right, 10, 27, 3, -1, reach, 2, scores);
      const expected = Array.from({ length: 25 }, (_, k) =>
        correlationAt(a, b, tile, 3 + (k % 5) - reach, -1 + Math.floor(k / 5) - reach, 2),
      );
      kernels.getDoubles(scores, 25).forEach((score, k) => expect(score).to.be.closeTo(expected[k], 1e-5));
    }
  });

  it('tell which pixels of a row stand out against the frames before and after', () => {
    const [before, after] = [new Float32Array(23).fill(1000), new Float32Array(23).fill(1100)];
    const row = Float32Array.from({ length: 23 }, (_, x) =>
      x === 3 ? 1400 : x === 22 ? 500 : x === 9 ? 1250 : 1050,
    );
    kernels.reserve(4 * 23, 4);
    const [r, b, a, out] = [kernels.put(row), kernels.put(before), kernels.put(after), kernels.room(23)];
    const found = kernels.run.standsOut(r, b, a, 23, 1, 1, 100, 200, out);
    expect(Array.from({ length: found }, (_, k) => kernels.whole(out + 4 * k))).to.deep.equal([3, 22]);
    // With that much light before, the bright one is none any more and the others are dark.
    expect(kernels.run.standsOut(r, b, a, 23, 1.4, 1.4, 100, 200, out)).to.equal(21);
  });

  it('keep pictures apart when a larger one comes, and after it', () => {
    const small = picture(40, 30, 0, 0, 3);
    const before = halve(small).samples;
    halve(picture(900, 700, 0, 0, 4));
    expect(most(halve(small).samples, before)).to.equal(0);
  });
});
