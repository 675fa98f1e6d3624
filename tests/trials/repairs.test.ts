import { expect } from 'chai';
import { checkedSettings, harmOf, RUNNERS, Study, type Picture } from '@bevrin/core';
import { measureClip } from '@bevrin/media';
import type { Defect, TreatmentName } from '@bevrin/contract';
import { scatterFaults, type StudyClip } from '@bevrin/rig';
import { measuredFrames, pairOf, psnr } from './pictures.js';
import { shareOf } from '../support/share.js';

const base: StudyClip = {
  study: 'wall',
  width: 480,
  height: 270,
  frames: 30,
  camera: { handPx: 2, handDeg: 0.05 },
  shutter: 0.2,
  noisePct: [0.5, 0.5, 0.5],
  codec: 'h264Lossless',
  seed: 1501,
};
type Pair = Awaited<ReturnType<typeof pairOf>>;

const treatAll = (
  { faulty }: Pair,
  treatment: TreatmentName,
  settings: Record<string, never> | object,
  measurement: Awaited<ReturnType<typeof measureClip>> = null as never,
): Picture[] => {
  const runner = RUNNERS[treatment]!;
  const study = new Study({ clip: faulty.clip.facts, firstFrame: 0, pictures: faulty.pictures });
  const running = runner.begin(study, checkedSettings(runner.settings, settings as never), measurement);
  return faulty.pictures.map((_, i) => running.treat(i));
};

const measured = (
  pictures: readonly Picture[],
  { faulty }: Pair,
  defect: Defect,
): ReturnType<typeof measureClip> => measuredFrames(pictures, faulty, [defect]);

const depthOf = ({ readings: { flicker } }: Awaited<ReturnType<typeof measureClip>>): number =>
  flicker.state === 'measured' ? flicker.values.depthPct : NaN;

/** Where two pictures differ. */
const changedIn = (now: Picture['planes'][0], was: Picture['planes'][0]): { x: number; y: number }[] =>
  Array.from(now.samples.keys())
    .filter((i) => now.samples[i] !== was.samples[i])
    .map((i) => ({ x: i % now.width, y: Math.floor(i / now.width) }));

const SMALL = { width: 320, height: 180, frames: 40 } as const;

describe('flicker that is taken out', function () {
  this.timeout(240_000);

  for (const [name, clip, by] of shareOf(
    [
      ['of the whole frame', { ...base, seed: 1502, light: { pulseHz: 4.3, depth: 0.15 } }, 'whole frame'],
      [
        'on foliage while somebody walks through',
        {
          ...base,
          study: 'foliage',
          seed: 1503,
          light: { pulseHz: 6.1, depth: 0.1 },
          subject: { tall: 0.6, pxPerSec: 150 },
        },
        'whole frame',
      ],
      [
        'in rolling bars',
        { ...base, seed: 1504, readout: 0.8, light: { pulseHz: 97, depth: 0.4 }, camera: { handPx: 1 } },
        'row bands',
      ],
    ] as const,
    2,
  ))
    it(`${name} leaves at most 12 % of it`, async () => {
      const pair = await pairOf({ ...clip, ...SMALL } as StudyClip, {}, 0, SMALL.frames);
      const before = depthOf(await measureClip(pair.faulty.path, { only: ['flicker'] }));
      expect(before).to.be.greaterThan(4);
      // As a plan has it: one whole beat lies in the window.
      const framesEachSide = by === 'row bands' ? 4 : 6;
      const after = depthOf(
        await measured(treatAll(pair, 'deflicker', { framesEachSide, by }), pair, 'flicker'),
      );
      expect(after, `${before} % before`).to.be.below(0.12 * before);
    });

  it('takes half of it at half the strength, and none at none', async () => {
    const clip = { ...base, ...SMALL, seed: 1502, light: { pulseHz: 4.3, depth: 0.15 } };
    const pair = await pairOf(clip, {}, 0, SMALL.frames);
    const still = treatAll(pair, 'deflicker', { framesEachSide: 6, strengthPct: 0 });
    expect(still[10].planes[0].samples).to.deep.equal(pair.faulty.pictures[10].planes[0].samples);
    const [before, half] = [
      depthOf(await measured(pair.faulty.pictures, pair, 'flicker')),
      depthOf(
        await measured(treatAll(pair, 'deflicker', { framesEachSide: 6, strengthPct: 50 }), pair, 'flicker'),
      ),
    ];
    expect(half / before).to.be.closeTo(0.5, 0.08);
  });
});

describe('faulty pixels that are filled', function () {
  this.timeout(240_000);
  const faults = scatterFaults(12, base.width, base.height, 71, 0.7);

  for (const method of shareOf(
    ['median of the surroundings in the same frame', 'the neighbouring frames'],
    1,
  ))
    it(`from ${method} are found no more, and nothing else is touched`, async () => {
      const pair = await pairOf({ ...base, seed: 1511, faults }, { faults: [] }, 0, 30);
      const before = await measureClip(pair.faulty.path, { only: ['hotPixels'] });
      const found =
        before.readings.hotPixels.state === 'measured' ? before.readings.hotPixels.values.pixels : [];
      expect(found.length).to.be.within(10, 12);
      const positions = found.map(({ x, y }) => [x, y]);
      const filled = treatAll(pair, 'correctPixels', { positions, radiusPx: 2, method });
      const after = await measured(filled, pair, 'hotPixels');
      expect(after.readings.hotPixels.state === 'measured' && after.readings.hotPixels.values.count).to.equal(
        0,
      );
      const [luma, was] = [filled[8].planes[0], pair.faulty.pictures[8].planes[0]];
      const changed = changedIn(luma, was).filter(({ x, y }) =>
        found.every((f) => Math.max(Math.abs(f.x - x), Math.abs(f.y - y)) >= 2),
      );
      expect(changed).to.deep.equal([]);
      const clean = pair.clean.pictures;
      expect(psnr(filled, clean, 0, 5, 10)).to.be.greaterThan(
        psnr(pair.faulty.pictures, clean, 0, 5, 10) + 6,
      );
    });
});

describe('faulty pixels that are filled in a shot that is held', function () {
  this.timeout(240_000);

  it('are no fine detail that the repair took', async () => {
    const held = { ...base, study: 'night', camera: {}, seed: 1512 } as const;
    const strong = scatterFaults(14, base.width, base.height, 72, 0.8);
    const pair = await pairOf({ ...held, faults: strong }, { faults: [] }, 0, 24);
    const filled = treatAll(pair, 'correctPixels', {
      positions: strong.map(({ x, y }) => [x, y]),
      radiusPx: 2,
    });
    const { clip, pictures } = pair.faulty;
    const given = {
      before: new Study({ clip: clip.facts, firstFrame: 0, pictures }),
      after: new Map([11, 12].map((f) => [f, filled[f]])),
      window: 0,
    };
    const counted = harmOf(given).detailKeptPct.value!;
    const told = harmOf(given, { faults: strong }).detailKeptPct.value!;
    expect(counted, 'taken for detail').to.be.below(97);
    expect(told).to.be.within(99, 101);
  });
});

describe('a picture that is sharpened', function () {
  this.timeout(240_000);

  it('comes nearer to the sharp one, and draws no halos beyond its limit', async () => {
    const soft = { ...base, seed: 1521, lensSigmaPx: 1.6, frames: 12 };
    const pair = await pairOf(soft, { lensSigmaPx: 0.5 }, 0, 12);
    const sharp = treatAll(pair, 'sharpen', { radiusPx: 1.6, strengthPct: 100, thresholdPct: 1 });
    const gained =
      psnr(sharp, pair.clean.pictures, 0, 2, 8) - psnr(pair.faulty.pictures, pair.clean.pictures, 0, 2, 8);
    expect(gained, 'dB').to.be.greaterThan(0.5);
    const { readings } = await measured(sharp, pair, 'softness');
    expect(readings.softness.state === 'measured' && readings.softness.values.overshootPct).to.be.below(8);
    expect(readings.softness.state === 'measured' && readings.softness.values.blurSigmaPx).to.be.below(1.45);
  });
});

describe('lens spots that are corrected', function () {
  this.timeout(240_000);
  const SPOTTED = { width: 360, height: 202, frames: 50 } as const;
  const spots = [
    { x: 105, y: 63, radiusPx: 10, density: 0.16 },
    { x: 240, y: 125, radiusPx: 13, density: 0.13 },
  ];

  it('are found no more, follow what passes behind them, and touch nothing else', async () => {
    const clip = { ...base, ...SPOTTED, seed: 56, camera: { panPx: 20, handPx: 0.8 }, spots };
    const pair = await pairOf(clip, { spots: [] }, 0, SPOTTED.frames);
    const before = await measureClip(pair.faulty.path, { only: ['hotPixels'] });
    const found =
      before.readings.hotPixels.state === 'measured' ? (before.readings.hotPixels.values.spots ?? []) : [];
    expect(found).to.have.length(2);
    const positions = found.map((s) => [s.x, s.y, s.radiusPx]);
    const mended = treatAll(pair, 'correctSpots', { positions });
    const after = await measured(mended, pair, 'hotPixels');
    expect(
      after.readings.hotPixels.state === 'measured' && after.readings.hotPixels.values.spotCount,
    ).to.equal(0);
    const [luma, was] = [mended[20].planes[0], pair.faulty.pictures[20].planes[0]];
    const changed = changedIn(luma, was).filter(({ x, y }) =>
      found.every((s) => Math.hypot(s.x - x, s.y - y) > 2.5 * s.radiusPx),
    );
    expect(changed).to.deep.equal([]);
    const { pictures } = pair.clean;
    expect(psnr(mended, pictures, 0, 10, 30)).to.be.greaterThan(
      psnr(pair.faulty.pictures, pictures, 0, 10, 30) + 8,
    );
    for (const chroma of [1, 2])
      expect(psnr(mended, pictures, chroma, 10, 30)).to.be.greaterThan(
        psnr(pair.faulty.pictures, pictures, chroma, 10, 30) - 3,
      );
  });
});

describe('steps that are taken out of a gradient', function () {
  this.timeout(240_000);

  it('of 6 bits are below the limit, and the gradient comes nearer to what it was', async () => {
    const bits = 6;
    const clip: StudyClip = {
      ...base,
      study: 'dusk',
      width: 640,
      height: 360,
      frames: 8,
      seed: 1541,
      signalBits: bits,
      noisePct: [0.05, 0.05, 0.05],
    };
    const pair = await pairOf(clip, { signalBits: undefined }, 0, 8);
    const indexIn = ({ readings: { banding } }: Awaited<ReturnType<typeof measureClip>>): number =>
      banding.state === 'measured' ? banding.values.index : NaN;
    expect(indexIn(await measureClip(pair.faulty.path, { only: ['banding'] }))).to.be.greaterThan(60);
    const stepPct = 100 / (2 ** bits - 1);
    const smooth = treatAll(pair, 'deband', { thresholdPct: 1.2 * stepPct, radiusPx: 24, ditherPct: 0.2 });
    expect(indexIn(await measured(smooth, pair, 'banding'))).to.be.below(10);
    const { pictures } = pair.clean;
    expect(psnr(smooth, pictures, 0, 1, 7)).to.be.greaterThan(psnr(pair.faulty.pictures, pictures, 0, 1, 7));
  });
});

describe('a treatment that is limited to regions', function () {
  this.timeout(240_000);
  const region = [120, 60, 160, 100];
  const isNear = (x: number, y: number, by: number): boolean => {
    const [left, top, width, height] = region;
    return x > left - by && x < left + width + by && y > top - by && y < top + height + by;
  };

  for (const keepFrom of [false, true])
    it(`${keepFrom ? 'and kept from them' : ''} leaves the rest as it was, sample for sample`, async () => {
      const pair = await pairOf({ ...base, noisePct: [3, 3, 3], frames: 8 }, {}, 0, 8);
      const settings = { framesEachSide: 2, lumaStrengthPct: 9, regions: [region], keepFrom };
      const { samples, width } = treatAll(pair, 'reduceNoise', settings)[4].planes[0];
      const before = pair.faulty.pictures[4].planes[0].samples;
      let [changedInside, inside, changedOutside] = [0, 0, 0];
      for (let i = 0; i < samples.length; i++) {
        const [x, y] = [i % width, Math.floor(i / width)];
        const changed = samples[i] !== before[i] ? 1 : 0;
        if (isNear(x, y, -14)) {
          inside++;
          changedInside += changed;
        } else if (!isNear(x, y, 14)) changedOutside += changed;
      }
      if (keepFrom) {
        expect(changedInside).to.equal(0);
        expect(changedOutside).to.be.greaterThan(0.5 * inside);
      } else {
        expect(changedOutside).to.equal(0);
        expect(changedInside).to.be.greaterThan(0.5 * inside);
      }
    });
});
