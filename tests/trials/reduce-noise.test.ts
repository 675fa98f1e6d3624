import { spawnSync } from 'node:child_process';
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect } from 'chai';
import { checkedSettings, RUNNERS, Study, type Picture } from '@bevrin/core';
import type { StudyClip } from '@bevrin/rig';
import { pairOf, psnr, read } from './pictures.js';
import { shareOf } from '../support/share.js';

const FRAMES = 11;
const FIRST = 6;
const [FROM, TO] = [4, 7];
const base: StudyClip = {
  study: 'wall',
  width: 320,
  height: 180,
  frames: 20,
  camera: { handPx: 3, handDeg: 0.1 },
  shutter: 0.3,
  codec: 'h264Lossless',
  seed: 1301,
};
const scenes: readonly StudyClip[] = [
  base,
  { ...base, study: 'foliage', seed: 1302, subject: { tall: 0.6, pxPerSec: 150 } },
  { ...base, study: 'night', seed: 1303, camera: { panPx: 60 } },
];

/** The frames between FROM and TO treated, the others as they were. */
const treated = (
  { faulty }: Awaited<ReturnType<typeof pairOf>>,
  settings: Record<string, number>,
): Picture[] => {
  const runner = RUNNERS.reduceNoise!;
  const study = new Study({ clip: faulty.clip.facts, firstFrame: FIRST, pictures: faulty.pictures });
  const running = runner.begin(study, checkedSettings(runner.settings, settings), null as never);
  return faulty.pictures.map((p, i) => (i >= FROM && i < TO ? running.treat(i) : p));
};

/** Filters for any purpose that come closest, each at its best settings for this noise (codes of 8 bits). */
const filtersAt = (sigma: number): string[] => [
  'hqdn3d=6:6:9:9',
  `nlmeans=s=${0.5 * sigma}:p=7:r=9`,
  `nlmeans=s=${0.66 * sigma}:p=7:r=9`,
  `vaguedenoiser=threshold=${sigma}`,
];

describe('noise that is reduced', function () {
  this.timeout(240_000);

  for (const [scene, sigmaPct] of shareOf(
    [
      [scenes[0], 3],
      [scenes[1], 3],
      [scenes[1], 1.5],
      [scenes[2], 1.5],
    ] as const,
    1,
  ))
    it(`of ${sigmaPct} % on ${scene.study} comes nearer to the clean picture than general-purpose filters bring it`, async () => {
      const noisePct: [number, number, number] = [sigmaPct, sigmaPct, sigmaPct];
      const pair = await pairOf({ ...scene, noisePct }, { noisePct: [0, 0, 0] }, FIRST, FRAMES);
      const clean = pair.clean.pictures;
      const before = psnr(pair.faulty.pictures, clean, 0, FROM, TO);
      const ours = psnr(
        treated(pair, {
          framesEachSide: 3,
          lumaStrengthPct: 3 * sigmaPct,
          chromaStrengthPct: 2.4 * sigmaPct,
          spatialStrengthPct: 40,
        }),
        clean,
        0,
        FROM,
        TO,
      );
      expect(ours - before, 'gained, dB').to.be.greaterThan(sigmaPct >= 3 ? 4 : 3);
      const folder = await mkdtemp(join(tmpdir(), 'bevrin-filters-'));
      const others: [string, number][] = [];
      for (const filter of filtersAt((sigmaPct / 100) * 219)) {
        const path = join(folder, 'filtered.mkv');
        const { status, stderr } = spawnSync('ffmpeg', [
          ...['-v', 'error', '-y', '-i', pair.faulty.path, '-frames:v', String(FIRST + FRAMES)],
          ...['-vf', filter, '-c:v', 'ffv1', path],
        ]);
        expect(status, `${filter}: ${stderr.toString()}`).to.equal(0);
        const { pictures } = await read(path, FIRST, FRAMES);
        others.push([filter, psnr(pictures, clean, 0, FROM, TO)]);
      }
      await rm(folder, { recursive: true });
      const [best, most] = others.reduce((a, b) => (b[1] > a[1] ? b : a));
      expect(ours, `${best}: ${most.toFixed(2)} dB, ours ${ours.toFixed(2)} dB`).to.be.greaterThan(most);
    });

  it('leaves a picture as it is where nothing is taken for noise', async () => {
    const pair = await pairOf({ ...base, noisePct: [1, 1, 1] }, {}, FIRST, FRAMES);
    const same = treated(pair, { framesEachSide: 2, lumaStrengthPct: 0, chromaStrengthPct: 0 });
    for (let f = FROM; f < TO; f++)
      same[f].planes.forEach(({ samples }, p) =>
        expect(samples).to.deep.equal(pair.faulty.pictures[f].planes[p].samples),
      );
  });

  it('mixes back as much of the original as is asked for', async () => {
    const pair = await pairOf({ ...base, noisePct: [2, 2, 2] }, { noisePct: [0, 0, 0] }, FIRST, FRAMES);
    const strong = { framesEachSide: 3, lumaStrengthPct: 6, chromaStrengthPct: 6 };
    const [without, half] = [treated(pair, strong), treated(pair, { ...strong, originalBackPct: 50 })];
    const off = (pictures: readonly Picture[]): number => psnr(pictures, pair.clean.pictures, 0, FROM, TO);
    expect(off(half)).to.be.lessThan(off(without));
    // Half of what was taken is there again.
    const taken = (pictures: readonly Picture[]): number => psnr(pictures, pair.faulty.pictures, 0, FROM, TO);
    expect(taken(half) - taken(without), 'dB').to.be.closeTo(6, 0.5);
  });

  it('gives the same pictures whether settings are tried together or each alone, and says what each takes', async () => {
    const { faulty } = await pairOf({ ...base, noisePct: [2, 2, 2] }, {}, FIRST, FRAMES);
    const runner = RUNNERS.reduceNoise!;
    const settings = [4, 1, 2].map((framesEachSide) =>
      checkedSettings(runner.settings, { framesEachSide, lumaStrengthPct: 6, spatialStrengthPct: 30 }),
    );
    const study = new Study({ clip: faulty.clip.facts, firstFrame: FIRST, pictures: faulty.pictures });
    const clock = (): number => performance.now();
    const began = clock();
    const together = runner.beginTogether!(study, settings, null as never, undefined, clock)!;
    const shared = [FROM, FROM + 1].map((f) => together.map((running) => running.treat(f)));
    const took = clock() - began;
    for (const [k, own] of settings.entries()) {
      const alone = runner.begin(study, own, null as never);
      for (const [i, f] of [FROM, FROM + 1].entries())
        expect(alone.treat(f).planes.map((p) => p.samples)).to.deep.equal(
          shared[i][k].planes.map((p) => p.samples),
        );
    }
    // The first worked for the others, who were spared what it did.
    expect(together[0].sparedMs!).to.be.below(0);
    for (const { sparedMs } of together.slice(1)) expect(sparedMs!).to.be.within(0.1, took);
    expect(together[2].sparedMs!, 'two frames take longer than one').to.be.above(together[1].sparedMs!);
  });

  it('shares nothing between settings that differ in more than how many frames are averaged', () => {
    const runner = RUNNERS.reduceNoise!;
    const study = new Study({ clip: {} as never, firstFrame: 0, pictures: [] });
    const settings = [3, 6].map((lumaStrengthPct) => checkedSettings(runner.settings, { lumaStrengthPct }));
    expect(runner.beginTogether!(study, settings, null as never, undefined, () => 0)).to.equal(null);
  });
});
