import { expect } from 'chai';
import { checkedSettings, RUNNERS, Study, type Picture, type RunningTreatment } from '@bevrin/core';
import { measureClip } from '@bevrin/media';
import type { Defect, Measurement, Step, TreatmentName } from '@bevrin/contract';
import { seeded, type StudyClip } from '@bevrin/rig';
import { shareOf } from '../support/share.js';
import { measuredFrames, pairOf, psnr } from './pictures.js';

const base: StudyClip = {
  study: 'wall',
  width: 384,
  height: 216,
  frames: 30,
  camera: { handPx: 2 },
  shutter: 0.2,
  noisePct: [0.5, 0.5, 0.5],
  codec: 'h264Lossless',
  seed: 1701,
};

interface Treated {
  readonly faulty: readonly Picture[];
  readonly clean: readonly Picture[];
  readonly pictures: readonly Picture[];
  readonly running: RunningTreatment;
  readonly before: Measurement;
  /** Measured when it is asked for: not every test needs to know. */
  after(): Promise<Measurement>;
}

/** What each of them mends: nothing else is measured. */
const MENDS: Partial<Record<TreatmentName, readonly Defect[]>> = {
  removeSpecks: ['hotPixels'],
  rebuildFrames: ['softness'],
  reduceMoire: ['moire'],
};

/** A clip with a defect that a treatment mends as the plan would have it, and the same clip without the defect. */
const treated = async (
  clip: StudyClip,
  without: Partial<StudyClip>,
  treatment: TreatmentName,
  settings: (before: Measurement) => Step['settings'],
): Promise<Treated> => {
  const { faulty, clean } = await pairOf(clip, without, 0, clip.frames);
  const before = await measureClip(faulty.path, { only: MENDS[treatment] });
  const runner = RUNNERS[treatment]!;
  const study = new Study({ clip: faulty.clip.facts, firstFrame: 0, pictures: faulty.pictures });
  const running = runner.begin(study, checkedSettings(runner.settings, settings(before)), before);
  const pictures = faulty.pictures.map((_, i) => running.treat(i));
  return {
    faulty: faulty.pictures,
    clean: clean.pictures,
    pictures,
    running,
    before,
    after: () => measuredFrames(pictures, faulty, MENDS[treatment]),
  };
};

const share = (mask: Uint8Array): number => mask.filter((v) => v > 0).length / mask.length;

const dust = (count: number, seed: number, radiusPx: number): NonNullable<StudyClip['specks']> => {
  const random = seeded(seed);
  return Array.from({ length: count }, (_, k) => ({
    frame: 3 + Math.floor((k * 24) / count),
    x: 30 + random() * 320,
    y: 30 + random() * 150,
    radiusPx: radiusPx * (0.8 + 0.6 * random()),
    level: random() < 0.5 ? 0.9 : 0.004,
  }));
};

describe('specks that are taken out', function () {
  this.timeout(240_000);

  for (const [name, clip] of shareOf(
    [
      ['of a wall by hand', { ...base, specks: dust(24, 5, 3) }],
      [
        'while somebody walks before foliage',
        {
          ...base,
          study: 'foliage',
          seed: 1702,
          specks: dust(24, 6, 3.5),
          subject: { tall: 0.6, pxPerSec: 120 },
        },
      ],
    ] as const,
    1,
  ))
    it(`${name}: none of them is found any more, the picture comes nearer to what it was, and nothing else is touched`, async () => {
      const found = await treated(clip as StudyClip, { specks: [] }, 'removeSpecks', () => ({}));
      const left = ({ readings: { hotPixels } }: Measurement): number =>
        hotPixels.state !== 'measured' || !hotPixels.values.specks
          ? NaN
          : hotPixels.values.specks.frames.reduce(
              (sum, f) =>
                sum +
                f.specks.filter(({ x, y }) =>
                  clip.specks.some((s) => s.frame === f.frame && Math.hypot(s.x - x, s.y - y) < 8),
                ).length,
              0,
            );
      expect(left(found.before)).to.be.greaterThan(20);
      expect(left(await found.after())).to.equal(0);
      let untouched = 0;
      for (let i = 2; i < clip.frames - 2; i++) {
        const mask = found.running.mask!(i);
        expect(share(mask), `frame ${i}`).to.be.below(0.02);
        const [a, b] = [found.faulty[i].planes[0].samples, found.pictures[i].planes[0].samples];
        for (let k = 0; k < a.length; k++) if (!mask[k] && a[k] !== b[k]) untouched++;
        if (!clip.specks.some((s) => s.frame === i)) continue;
        const gain =
          psnr(found.pictures, found.clean, 0, i, i + 1) - psnr(found.faulty, found.clean, 0, i, i + 1);
        expect(gain, `dB nearer in frame ${i}`).to.be.greaterThan(1);
      }
      expect(untouched, 'samples outside of the mask that changed').to.equal(0);
    });

  it('leaves what moves and what is larger than was said', async () => {
    const clip: StudyClip = { ...base, study: 'foliage', seed: 1703, subject: { tall: 0.6, pxPerSec: 160 } };
    const walking = await treated(clip, {}, 'removeSpecks', () => ({}));
    for (let i = 2; i < 28; i++) expect(share(walking.running.mask!(i)), `frame ${i}`).to.be.below(0.004);
    const large = await treated({ ...base, specks: dust(8, 7, 9) }, { specks: [] }, 'removeSpecks', () => ({
      largestAreaPx: 30,
    }));
    for (let i = 2; i < 28; i++) expect(share(large.running.mask!(i))).to.be.below(0.002);
  });
});

describe('blurred frames that are rebuilt', function () {
  this.timeout(240_000);

  it('from sharp ones on both sides are no longer soft, and nearer to what they were', async () => {
    const blurredFrames = { softBetween: { from: 18, to: 19, sigmaPx: 3 } };
    const clip = { ...base, seed: 1704, camera: { handPx: 1.5 }, ...blurredFrames };
    const found = await treated(clip, { softBetween: undefined }, 'rebuildFrames', () => ({
      frames: [[18, 19]],
    }));
    const soft = ({ readings: { softness } }: Measurement): number =>
      softness.state === 'measured' ? softness.values.softFrames.length : NaN;
    expect(soft(found.before)).to.equal(1);
    expect(soft(await found.after())).to.equal(0);
    const gain = (i: number): number =>
      psnr(found.pictures, found.clean, 0, i, i + 1) - psnr(found.faulty, found.clean, 0, i, i + 1);
    expect(gain(18)).to.be.greaterThan(2);
    expect(gain(19)).to.be.greaterThan(2);
    expect(found.pictures[10].planes[0].samples).to.deep.equal(found.faulty[10].planes[0].samples);
    expect(share(found.running.mask!(18))).to.be.below(0.01);
  });

  it('shows where somebody who moves would be there twice', async () => {
    const clip: StudyClip = {
      ...base,
      seed: 1705,
      softBetween: { from: 18, to: 20, sigmaPx: 3 },
      subject: { tall: 0.7, pxPerSec: 400 },
    };
    const found = await treated(clip, {}, 'rebuildFrames', () => ({ frames: [[18, 20]] }));
    expect(share(found.running.mask!(19))).to.be.greaterThan(0.005);
  });
});

describe('moiré that is smoothed away', function () {
  this.timeout(240_000);

  for (const [name, cloth, most] of [
    ['of colour', { cyclesPerPx: 0.42, coloured: true }, 0.3],
    ['of luma', { cyclesPerPx: 0.94 }, 0.6],
  ] as const)
    it(`${name} is less than ${100 * most} % of what it was, and the picture outside its regions is untouched`, async () => {
      const clip: StudyClip =
        'coloured' in cloth
          ? { ...base, study: 'cloth', seed: 1706, cloth, mosaic: true, lensSigmaPx: 0.3 }
          : { ...base, study: 'cloth', seed: 1707, cloth, aperture: 0.3, width: 480, height: 270 };
      const indexOf = ({ readings: { moire } }: Measurement): number =>
        moire.state === 'measured' ? moire.values.index : NaN;
      let regions: number[][] = [];
      const found = await treated(clip, {}, 'reduceMoire', ({ readings: { moire } }) => {
        if (moire.state !== 'measured' || moire.values.patterns.length === 0) throw new Error('no moiré');
        const { patterns } = moire.values;
        regions = patterns.map((p) => [p.x, p.y, p.width, p.height]);
        const luma = patterns.some((p) => p.kind === 'luma');
        return {
          regions,
          chromaRadiusPx: 0.75 * patterns[0].periodPx,
          lumaRadiusPx: luma ? 0.4 * patterns[0].periodPx : 0,
        };
      });
      expect(indexOf(found.before)).to.be.greaterThan(20);
      expect(indexOf(await found.after()), `${indexOf(found.before)} before`).to.be.below(
        most * indexOf(found.before),
      );
      const [a, b] = [found.faulty[10].planes[1], found.pictures[10].planes[1]];
      const outside = (x: number, y: number): boolean =>
        regions.every(
          ([l, t, w, h]) => 2 * x < l - 14 || 2 * y < t - 14 || 2 * x > l + w + 14 || 2 * y > t + h + 14,
        );
      for (let i = 0; i < a.samples.length; i++)
        if (outside(i % a.width, Math.floor(i / a.width))) expect(b.samples[i]).to.equal(a.samples[i]);
    });
});
