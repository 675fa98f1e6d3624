import { spawnSync } from 'node:child_process';
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect } from 'chai';
import { checkedSettings, RUNNERS, Study, type Picture } from '@bevrin/core';
import type { Measurement, TreatmentName, ViewingTransform } from '@bevrin/contract';
import { measureClip } from '@bevrin/media';
import { renderStudy, type StudyClip } from '@bevrin/rig';
import { judging } from '../accuracy/seeds.js';
import { measuredFrames, psnr, read } from './pictures.js';
import { shareOf } from '../support/share.js';

type Read = Awaited<ReturnType<typeof read>>;

const treatAll = (
  { clip, pictures }: Read,
  treatment: TreatmentName,
  settings: object,
  viewing?: ViewingTransform,
  measurement: Measurement = null as never,
): Picture[] => {
  const runner = RUNNERS[treatment]!;
  const study = new Study({ clip: clip.facts, firstFrame: 0, pictures });
  const running = runner.begin(
    study,
    checkedSettings(runner.settings, settings as never),
    measurement,
    viewing,
  );
  return pictures.map((_, i) => running.treat(i));
};

const noiseOf = ({ readings: { noise } }: Measurement) => {
  if (noise.state !== 'measured') throw new Error(noise.reason ?? 'not measured');
  return noise.values;
};

describe('a blown-up picture that is scaled once', function () {
  this.timeout(240_000);
  let folder = '';
  before(async () => (folder = await mkdtemp(join(tmpdir(), 'bevrin-scale-'))));
  after(() => rm(folder, { recursive: true }));

  const filtered = async (path: string, filter: string, frames: number): Promise<Read> => {
    const to = join(folder, `${Math.random()}.mkv`);
    const { status, stderr } = spawnSync('ffmpeg', [
      ...['-v', 'error', '-y', '-i', path, '-frames:v', String(frames)],
      ...['-vf', filter, '-c:v', 'ffv1', to],
    ]);
    expect(status, `${filter}: ${stderr.toString()}`).to.equal(0);
    return read(to, 0, frames);
  };

  const enlarged = (
    [
      ['wall', 0.2],
      ['foliage', 0.2],
      ['wall', 1],
    ] as const
  ).flatMap(([study, noise]) =>
    (
      [
        ['bilinear', 240, 136, 0.5],
        ['bicubic', 320, 180, 0.667],
        ['bicubic', 240, 136, 0.5],
      ] as const
    ).map((by) => [study, noise, ...by] as const),
  );
  for (const [study, noise, by, width, height, ratio] of shareOf(enlarged, 1))
    it(`by ${by} to ${Math.round(100 / ratio)} %, ${study}, noise of ${noise} %: is never further from the large one than plain scaling filters leave it`, async () => {
      const clip: StudyClip = {
        study,
        width: 480,
        height: 270,
        frames: 6,
        camera: { handPx: 2 },
        shutter: 0.2,
        lensSigmaPx: 0.45,
        noisePct: [noise, noise, noise],
        codec: 'h264Lossless',
        seed: judging(1801),
      };
      const { path } = await renderStudy(clip);
      const clean = await read((await renderStudy({ ...clip, noisePct: [0.01, 0.01, 0.01] })).path, 0, 4);
      const up = `scale=${width}:${height}:flags=area,scale=480:270:flags=${by}`;
      const blownUp = await filtered(path, up, 4);
      const nearness = ({ pictures }: Pick<Read, 'pictures'>): number =>
        psnr(pictures, clean.pictures, 0, 0, 4);
      const ours = nearness({
        pictures: treatAll(blownUp, 'scale', {
          nativeScale: ratio,
          restorePct: noise > 0.5 ? 30 : 60,
          enlargedBy: by === 'bilinear' ? 'linear' : 'cubic',
        }),
      });
      for (const flags of ['bicubic', 'lanczos', 'spline']) {
        const again = `scale=${width}:${height}:flags=${flags},scale=480:270:flags=${flags}`;
        const plain = nearness(await filtered(blownUp.path, again, 4));
        expect(ours, `${flags}: ${plain.toFixed(2)} dB`).to.be.at.least(plain - 0.02);
      }
      // What is brought back raises noise: that is reduced before.
      if (noise < 0.5) expect(ours).to.be.at.least(nearness(blownUp) - 0.02);
    });

  it('leaves a picture that has its own size as it is', async () => {
    const { path } = await renderStudy({
      study: 'wall',
      width: 320,
      height: 180,
      frames: 4,
      noisePct: [0.5, 0.5, 0.5],
      codec: 'h264Lossless',
      seed: judging(1802),
    });
    const came = await read(path, 0, 3);
    const same = treatAll(came, 'scale', { nativeScale: 1, restorePct: 100 });
    expect(same[1].planes[0].samples).to.deep.equal(came.pictures[1].planes[0].samples);
  });
});

describe('grain that is brought back', function () {
  this.timeout(240_000);
  const clip: StudyClip = {
    study: 'wall',
    width: 480,
    height: 270,
    frames: 16,
    camera: { handPx: 2 },
    shutter: 0.2,
    noisePct: [0.1, 0.1, 0.1],
    codec: 'h264Lossless',
    seed: judging(1811),
  };
  let clean: Read;
  before(async () => (clean = await read((await renderStudy(clip)).path, 0, 16)));
  const grainy = async (settings: object) =>
    noiseOf(await measuredFrames(treatAll(clean, 'grain', settings), clean, ['noise']));

  it('is as strong as the share that was asked for, and new in every frame', async () => {
    for (const [sharePct, truth] of [
      [25, 0.5],
      [50, 1],
    ] as const) {
      const { lumaPct, temporalShare } = await grainy({ sharePct, lumaPct: 2 });
      expect(lumaPct).to.be.closeTo(truth, 0.15 * truth);
      expect(temporalShare).to.be.greaterThan(0.9);
    }
  });

  it('is as coarse as it was', async () => {
    const fine = await grainy({ sharePct: 50, lumaPct: 2 });
    const coarse = await grainy({ sharePct: 50, lumaPct: 2, sizePx: 1.5 });
    expect(coarse.lumaPct).to.be.closeTo(1, 0.2);
    expect(fine.fineShare).to.be.greaterThan(0.6);
    expect(coarse.coarseShare).to.be.greaterThan(0.4);
  });

  it('follows the level, and leaves colour and a share of nothing alone', async () => {
    const byLevel = [
      [10, 3],
      [90, 0.5],
    ];
    const drawn = treatAll(clean, 'grain', { sharePct: 100, lumaPct: 2, byLevel });
    const squares: Record<'dark' | 'bright', number[]> = { dark: [], bright: [] };
    const [before, after] = [clean.pictures[3].planes, drawn[3].planes];
    before[0].samples.forEach((v, i) => {
      const level = (v - 16) / 219;
      const d = ((after[0].samples[i] - v) / 219) ** 2;
      if (level < 0.35) squares.dark.push(d);
      else if (level > 0.6) squares.bright.push(d);
    });
    const sigma = (of: number[]): number => 100 * Math.sqrt(of.reduce((a, b) => a + b, 0) / of.length);
    expect(sigma(squares.dark)).to.be.greaterThan(1.2 * sigma(squares.bright));
    expect(after[1].samples).to.deep.equal(before[1].samples);
    const none = treatAll(clean, 'grain', { sharePct: 0, lumaPct: 2 });
    expect(none[3].planes[0].samples).to.deep.equal(before[0].samples);
  });
});

describe('noise that is reduced in part', function () {
  this.timeout(240_000);
  const clip: StudyClip = {
    study: 'foliage',
    width: 320,
    height: 180,
    frames: 12,
    camera: { handPx: 2 },
    shutter: 0.2,
    noisePct: [3, 3, 3],
    codec: 'h264Lossless',
    seed: judging(1821),
  };
  const strong = { framesEachSide: 2, lumaStrengthPct: 9, chromaStrengthPct: 12, spatialStrengthPct: 60 };
  let noisy: Read;
  let clean: Read;
  before(async () => {
    noisy = await read((await renderStudy(clip)).path, 0, 12);
    clean = await read((await renderStudy({ ...clip, noisePct: [0.01, 0.01, 0.01] })).path, 0, 12);
  });
  /** Root mean square of what was taken from a plane of one frame, codes. */
  const taken = (pictures: readonly Picture[], p = 0): number => {
    const [a, b] = [noisy.pictures[6].planes[p].samples, pictures[6].planes[p].samples];
    let sum = 0;
    for (let i = 0; i < a.length; i++) sum += (a[i] - b[i]) ** 2;
    return Math.sqrt(sum / a.length);
  };

  it('takes fine, medium and coarse apart, which are the whole together', () => {
    const all = taken(treatAll(noisy, 'reduceNoise', strong));
    const parts = (['finePct', 'mediumPct', 'coarsePct'] as const).map((own) =>
      taken(
        treatAll(noisy, 'reduceNoise', { ...strong, finePct: 0, mediumPct: 0, coarsePct: 0, [own]: 100 }),
      ),
    );
    for (const part of parts) expect(part).to.be.within(0.05 * all, 0.95 * all);
    // Bands that hardly overlap: powers add up, no more than a third lies between them.
    const sum = Math.hypot(...parts);
    expect(sum / all).to.be.within(0.8, 1.05);
  });

  it('takes one channel alone: blue is next to nothing of luma, green most of it', () => {
    const alone = (own: string): Picture[] =>
      treatAll(noisy, 'reduceNoise', { ...strong, redPct: 0, greenPct: 0, bluePct: 0, [own]: 100 });
    const [red, green, blue] = ['redPct', 'greenPct', 'bluePct'].map(alone);
    const all = treatAll(noisy, 'reduceNoise', strong);
    expect(taken(green)).to.be.greaterThan(0.5 * taken(all));
    expect(taken(blue)).to.be.lessThan(0.25 * taken(all));
    expect(taken(blue, 1), 'Cb is blue less luma').to.be.greaterThan(0.6 * taken(all, 1));
    expect(taken(red, 2), 'Cr is red less luma').to.be.greaterThan(0.6 * taken(all, 2));
    expect(taken(red, 1)).to.be.lessThan(0.5 * taken(all, 1));
  });

  it('keeps detail that would go with it, and stays nearer to the clean picture where too much is taken', async () => {
    const far = { ...strong, lumaStrengthPct: 30, chromaStrengthPct: 12, spatialStrengthPct: 75 };
    const measurement = await measureClip(noisy.path, { only: ['noise'] });
    const [without, kept] = [0, 100].map((keepDetailPct) =>
      treatAll(noisy, 'reduceNoise', { ...far, keepDetailPct }, undefined, measurement),
    );
    const nearness = (pictures: readonly Picture[]): number => psnr(pictures, clean.pictures, 0, 5, 7);
    expect(nearness(kept)).to.be.greaterThan(nearness(without) + 2);
    const [a, b] = [0, 100].map((keepDetailPct) =>
      taken(treatAll(noisy, 'reduceNoise', { ...strong, keepDetailPct })),
    );
    expect(b).to.be.lessThan(a);
    expect(b, 'noise is taken all the same').to.be.greaterThan(0.7 * a);
  });

  it('works on what is viewed: lifted shadows are cleaned harder than what is stored', () => {
    const lift: ViewingTransform = { kind: 'lift', stops: 2 };
    const gentle = { ...strong, lumaStrengthPct: 4 };
    const after = { ...gentle, work: 'after the viewing transform' };
    const stored = treatAll(noisy, 'reduceNoise', gentle, lift);
    const viewed = treatAll(noisy, 'reduceNoise', after, lift);
    const none = treatAll(noisy, 'reduceNoise', after);
    expect(none[6].planes[0].samples, 'without a transform it is the same').to.deep.equal(
      stored[6].planes[0].samples,
    );
    // Lifted noise is stronger than the strength: less of it is taken for noise in the shadows.
    expect(taken(viewed)).to.not.be.closeTo(taken(stored), 0.05 * taken(stored));
  });

  it('reads cleaner for the measure as well', async () => {
    const before = noiseOf(await measureClip(noisy.path, { only: ['noise'] })).lumaPct;
    const after = noiseOf(
      await measuredFrames(treatAll(noisy, 'reduceNoise', strong), noisy, ['noise']),
    ).lumaPct;
    expect(after).to.be.lessThan(0.4 * before);
  });
});
