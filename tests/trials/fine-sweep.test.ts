import { expect } from 'chai';
import { findingsOf, targetsFrom, weigh } from '@bevrin/core';
import { measureClip, tryTreatment } from '@bevrin/media';
import type { TreatmentName } from '@bevrin/contract';
import { renderStudy, type StudyClip } from '@bevrin/rig';
import { DEFAULT_SPEC, findSpec } from '@bevrin/specs';
import { judging } from '../accuracy/seeds.js';
import { inLongRuns } from '../support/share.js';

const base: StudyClip = {
  study: 'wall',
  width: 320,
  height: 180,
  frames: 40,
  camera: { handPx: 2 },
  shutter: 0.2,
  noisePct: [0.4, 0.4, 0.4],
  codec: 'h264Lossless',
  seed: 1801,
};

describe('the setting that a trial chooses', function () {
  this.timeout(240_000);

  for (const [name, treatment, key, values, clip] of [
    [
      'of noise reduction',
      'reduceNoise',
      'framesEachSide',
      [1, 2, 3, 5, 7, 9],
      { ...base, noisePct: [3, 3, 3] },
    ],
  ] as const)
    inLongRuns(`${name} is within 10 % of the best that a fine sweep finds`, async () => {
      const { path } = await renderStudy({ ...clip, seed: judging(clip.seed) } as StudyClip);
      const spec = await findSpec(DEFAULT_SPEC);
      const measured = await measureClip(path);
      const order = { treatment: treatment as TreatmentName, spec, measured, mostFrames: 12, threads: 2 };
      const coarse = await tryTreatment(path, order);
      const fine = await tryTreatment(path, { ...order, sweep: { key, values: [...values] } });
      const target = targetsFrom(findingsOf(measured, spec));
      const total = (run: (typeof fine.runs)[number]): number => weigh(run, target).total;
      const best = Math.max(...fine.runs.map(total));
      expect(coarse.choice.run, coarse.choice.because).to.not.equal(null);
      expect(best).to.be.greaterThan(0.2);
      expect(total(coarse.runs[coarse.choice.run!])).to.be.at.least(0.9 * best);
    });
});
