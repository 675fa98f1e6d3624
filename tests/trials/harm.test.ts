import { expect } from 'chai';
import { harmOf, Study, type Harm, type Picture } from '@bevrin/core';
import type { StudyClip } from '@bevrin/rig';
import { shareOf } from '../support/share.js';
import { pairOf } from './pictures.js';

const COUNT = 14;
const FIRST = 4;
/** Frames that are repaired; those about them are left for what a measure needs beside. */
const [FROM, TO] = [5, 7];
const scenes: readonly StudyClip[] = (['wall', 'foliage'] as const).map((study, i) => ({
  study,
  width: 448,
  height: 252,
  frames: 20,
  camera: { handPx: 2.5 },
  shutter: 0.2,
  noisePct: [1.5, 1.5, 1.5],
  codec: 'h264Lossless',
  seed: 1401 + i,
}));

/** Luma changed by a function of the frames about it; colour as it was. */
type Change = (frames: readonly Picture[], index: number) => Float64Array | Float32Array;

const changed = (frames: readonly Picture[], change: Change): Map<number, Picture> => {
  const after = new Map<number, Picture>();
  for (let f = FROM; f < TO; f++) {
    const [luma, ...colour] = frames[f].planes;
    const samples = Uint8Array.from(change(frames, f), (v) => Math.max(0, Math.min(255, Math.round(v))));
    after.set(f, { planes: [{ ...luma, samples }, ...colour] });
  }
  return after;
};

const lumaOf = (frames: readonly Picture[], index: number): Float64Array =>
  Float64Array.from(frames[index].planes[0].samples);

/** A Gaussian along rows and down columns. */
const blurred = (values: Float64Array, width: number, sigma: number): Float64Array => {
  const radius = Math.ceil(3 * sigma);
  const taps = Array.from({ length: 2 * radius + 1 }, (_, i) =>
    Math.exp(-((i - radius) ** 2) / (2 * sigma ** 2)),
  );
  const total = taps.reduce((a, b) => a + b, 0);
  const height = values.length / width;
  const [across, out] = [new Float64Array(values.length), new Float64Array(values.length)];
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      let sum = 0;
      for (let k = -radius; k <= radius; k++)
        sum += taps[k + radius] * values[y * width + Math.max(0, Math.min(width - 1, x + k))];
      across[y * width + x] = sum / total;
    }
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      let sum = 0;
      for (let k = -radius; k <= radius; k++)
        sum += taps[k + radius] * across[Math.max(0, Math.min(height - 1, y + k)) * width + x];
      out[y * width + x] = sum / total;
    }
  return out;
};

const valueOf = (harm: Harm, name: keyof Harm): number => {
  const figure = harm[name];
  if (figure.value === null) throw new Error(`${name}: ${figure.reason}`);
  return figure.value;
};

for (const scene of shareOf(scenes, 1))
  describe(`harm to ${scene.study}`, function () {
    this.timeout(240_000);
    let noisy: Awaited<ReturnType<typeof pairOf>>['faulty'];
    let clean: Awaited<ReturnType<typeof pairOf>>['clean'];
    before(async () => {
      ({ faulty: noisy, clean } = await pairOf(scene, { noisePct: [0, 0, 0] }, FIRST, COUNT));
    });
    const harmBy = (change: Change, window = 0, of = noisy): Harm =>
      harmOf({
        before: new Study({ clip: of.clip.facts, firstFrame: FIRST, pictures: of.pictures }),
        after: changed(of.pictures, change),
        window,
      });
    const width = scene.width;

    it('is none where nothing was done', () => {
      const harm = harmBy(lumaOf);
      expect(valueOf(harm, 'detailKeptPct')).to.be.closeTo(100, 1);
      expect(valueOf(harm, 'mediumDetailKeptPct')).to.be.closeTo(100, 1);
      expect(valueOf(harm, 'takenStructurePct')).to.equal(0);
      expect(valueOf(harm, 'ghostPct')).to.equal(0);
      expect(valueOf(harm, 'bendPx')).to.be.below(0.03);
      expect(valueOf(harm, 'haloPct')).to.equal(0);
      expect(valueOf(harm, 'grainEvenness')).to.be.closeTo(1, 0.01);
      expect(valueOf(harm, 'levelShiftPct')).to.equal(0);
    });

    it('counts detail that a blur took, whatever noise lies over it, and more for a wider one', () => {
      let last = 101;
      for (const sigma of [0.3, 0.8, 2]) {
        const blur: Change = (frames, f) => blurred(lumaOf(frames, f), width, sigma);
        const truth = valueOf(harmBy(blur, 0, clean), 'detailKeptPct');
        const read = valueOf(harmBy(blur), 'detailKeptPct');
        expect(read, `${sigma} px`).to.be.closeTo(truth, 4);
        expect(read).to.be.below(last);
        last = read;
      }
      expect(last).to.be.below(25);
    });

    it('takes noise that was added or removed neither for detail kept nor for detail lost', () => {
      const louder = harmBy((frames, f) =>
        lumaOf(frames, f).map((v, i) => v + 6 * Math.sin(91.7 * i * (1 + f) + i * i)),
      );
      expect(valueOf(louder, 'detailKeptPct')).to.be.closeTo(100, 4);
      const none = harmBy((_, f) => lumaOf(clean.pictures, f));
      expect(valueOf(none, 'detailKeptPct')).to.be.closeTo(100, 4);
      expect(valueOf(none, 'takenStructurePct')).to.be.below(10);
    });

    it('tells picture from noise in what was taken away', () => {
      // A blur takes away picture, and noise in the measure of their powers; both are known here.
      const blur: Change = (frames, f) => blurred(lumaOf(frames, f), width, 1.2);
      const powers = [noisy, clean].map(({ pictures }) => {
        const from = lumaOf(pictures, FROM);
        const left = blur(pictures, FROM);
        return from.reduce((s, v, i) => s + (v - left[i]) ** 2, 0);
      });
      const truth = (100 * powers[1]) / powers[0];
      expect(valueOf(harmBy(blur), 'takenStructurePct')).to.be.closeTo(truth, 10);
    });

    it('sees another frame shine through', () => {
      for (const share of [0.1, 0.25]) {
        const mixed: Change = (frames, f) => {
          const other = lumaOf(frames, f + 1);
          return lumaOf(frames, f).map((v, i) => (1 - share) * v + share * other[i]);
        };
        expect(valueOf(harmBy(mixed, 1), 'ghostPct')).to.be.closeTo(100 * share, 5);
      }
    });

    it('measures bending, and none in a shift', () => {
      for (const [bend, shift] of [
        [1, 0],
        [0.4, 0],
        [0, 1.3],
      ]) {
        const warped: Change = (frames, f) => {
          const from = lumaOf(frames, f);
          return from.map((_, i) => {
            const [x, y] = [i % width, Math.floor(i / width)];
            const at = Math.max(0, Math.min(width - 1.001, x + shift + bend * Math.sin(x / 31 + y / 25)));
            const [ix, share] = [Math.floor(at), at % 1];
            return from[y * width + ix] * (1 - share) + from[y * width + ix + 1] * share;
          });
        };
        expect(valueOf(harmBy(warped), 'bendPx'), `${bend} px`).to.be.closeTo(bend / Math.SQRT2, 0.1);
      }
    });

    it('measures light that nobody asked to change', () => {
      const lifted = harmBy((frames, f) => lumaOf(frames, f).map((v) => v + 2.19));
      expect(valueOf(lifted, 'levelShiftPct')).to.be.closeTo(1, 0.2);
      expect(valueOf(lifted, 'cbShiftPct')).to.equal(0);
    });

    it('finds grain that is left in some places and gone in others', () => {
      const half = harmBy((frames, f) => {
        const still = lumaOf(clean.pictures, f);
        return lumaOf(frames, f).map((v, i) => (still[i] > 110 ? v : still[i] + 0.3 * (v - still[i])));
      });
      expect(valueOf(half, 'grainEvenness')).to.be.below(0.7);
      const even = harmBy((frames, f) => {
        const still = lumaOf(clean.pictures, f);
        return lumaOf(frames, f).map((v, i) => still[i] + 0.5 * (v - still[i]));
      });
      expect(valueOf(even, 'grainEvenness')).to.be.above(0.8);
    });
  });
