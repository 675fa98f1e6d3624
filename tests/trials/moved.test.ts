import { expect } from 'chai';
import { checkedSettings, harmOf, RUNNERS, Study, type Picture, type RunningTreatment } from '@bevrin/core';
import { measureClip } from '@bevrin/media';
import type { Measurement, Step, TreatmentName } from '@bevrin/contract';
import type { StudyClip } from '@bevrin/rig';
import { judging } from '../accuracy/seeds.js';
import { renderStudy } from '@bevrin/rig';
import { measuredFrames, psnr, read } from './pictures.js';
import { inLongRuns, shareOf } from '../support/share.js';

const base: StudyClip = {
  study: 'wall',
  width: 384,
  height: 216,
  frames: 44,
  shutter: 0.2,
  noisePct: [0.5, 0.5, 0.5],
  codec: 'h264Lossless',
  seed: 1601,
};

interface Moved {
  readonly before: Measurement;
  readonly after: Measurement;
  readonly pictures: readonly Picture[];
  readonly running: RunningTreatment;
  readonly study: Study;
}

/** What moving a picture changes. */
const MOVING = ['shake', 'rollingShutter'] as const;

/** A clip that was moved by a treatment, measured before and after. */
const moved = async (
  clip: StudyClip,
  treatment: TreatmentName,
  settings: Step['settings'],
): Promise<Moved> => {
  const { path } = await renderStudy({ ...clip, seed: judging(clip.seed) });
  const before = await measureClip(path, { only: MOVING });
  const faulty = await read(path, 0, clip.frames);
  const runner = RUNNERS[treatment]!;
  const study = new Study({ clip: faulty.clip.facts, firstFrame: 0, pictures: faulty.pictures });
  const running = runner.begin(study, checkedSettings(runner.settings, settings), before);
  const pictures = faulty.pictures.map((_, i) => running.treat(i));
  return { before, after: await measuredFrames(pictures, faulty, MOVING), pictures, running, study };
};

const jitterOf = ({ readings: { shake } }: Measurement): number =>
  shake.state === 'measured' ? shake.values.jitterRmsPx : NaN;
const leanOf = ({ readings: { rollingShutter } }: Measurement): number =>
  rollingShutter.state === 'measured' ? rollingShutter.values.skewDeg : NaN;

/** Harm of some frames in the middle, set back to where they were. */
const harmOfMoved = ({ pictures, running, study }: Moved): ReturnType<typeof harmOf> => {
  const after = new Map([20, 21, 22, 23].map((i) => [i, running.undo!(i, pictures[i])]));
  return harmOf({ before: study, after, window: 0 }, { moved: true, cropPct: running.cropPct });
};

describe('a shaken picture that is steadied', function () {
  this.timeout(240_000);

  for (const [name, clip, settings] of shareOf(
    [
      [
        'by position',
        { ...base, camera: { handPx: 3 } },
        { motionModel: 'position', keepMove: true, enlarge: false },
      ],
      [
        'by position and rotation, while the camera pans',
        { ...base, seed: 1602, camera: { handPx: 3, handDeg: 0.3, panPx: 60 } },
        { motionModel: 'position and rotation', keepMove: true },
      ],
      [
        'with foliage before it and somebody who walks through',
        {
          ...base,
          study: 'foliage',
          seed: 1603,
          camera: { handPx: 3 },
          subject: { tall: 0.5, pxPerSec: 90 },
        },
        { motionModel: 'position', keepMove: true },
      ],
    ] as const,
    1,
  ))
    it(`${name} keeps at most 10 % of its jitter, straight lines straight, and gives up what the plan promised`, async () => {
      const found = await moved(clip as StudyClip, 'stabilise', settings);
      const [was, is] = [jitterOf(found.before), jitterOf(found.after)];
      expect(was).to.be.greaterThan(2);
      expect(is, `${was} px before`).to.be.below(0.1 * was);
      const { shake } = found.before.readings;
      if (shake.state !== 'measured') throw new Error('no shake');
      expect(found.running.cropPct).to.be.closeTo(shake.values.cropPct, 1);
      const harm = harmOfMoved(found);
      expect(harm.bendPx.value, 'bending').to.be.below(0.3);
      expect(harm.detailKeptPct.value, 'detail').to.be.within(75, 101);
      expect(harm.cropPct.value).to.equal(found.running.cropPct);
    });

  it('gives up no more than it may, and steadies the rest by so much less', async () => {
    const clip = { ...base, camera: { handPx: 3 } };
    const { before, after, running } = await moved(clip, 'stabilise', {
      cropPct: 1.5,
      motionModel: 'position',
    });
    expect(running.cropPct).to.be.closeTo(1.5, 1e-9);
    const left = jitterOf(after) / jitterOf(before);
    expect(left).to.be.within(0.15, 0.9);
  });

  inLongRuns('is half as steady at half the strength, and untouched at none', async () => {
    const clip = { ...base, camera: { handPx: 3 } };
    const { before, after } = await moved(clip, 'stabilise', { strengthPct: 50, motionModel: 'position' });
    expect(jitterOf(after) / jitterOf(before)).to.be.closeTo(0.5, 0.08);
    const none = await moved(clip, 'stabilise', { strengthPct: 0 });
    expect(none.pictures[10].planes[0].samples).to.deep.equal(
      none.study.sequence.pictures[10].planes[0].samples,
    );
    expect(none.running.cropPct).to.equal(0);
  });
});

describe('leaning rows that are straightened', function () {
  this.timeout(240_000);

  for (const [name, clip] of shareOf(
    [
      ['of a wall, by hand', { ...base, seed: 1606, readout: 0.6, camera: { handPx: 6 } }],
      [
        'on foliage, in a pan by hand',
        { ...base, study: 'foliage', seed: 1605, readout: 0.8, camera: { handPx: 6, panPx: 180 } },
      ],
    ] as const,
    1,
  ))
    it(`${name} lean at most 10 % of what they did`, async () => {
      const readoutPctOfFrame = 100 * clip.readout;
      const found = await moved(clip as StudyClip, 'straightenRows', { readoutPctOfFrame });
      expect(leanOf(found.before)).to.be.greaterThan(0.5);
      expect(leanOf(found.after), `${leanOf(found.before)}° before`).to.be.below(0.1 * leanOf(found.before));
      expect(harmOfMoved(found).bendPx.value).to.be.below(0.3);
    });
});

describe('a picture that is moved and set back', () => {
  it('is nearly what it was', async () => {
    const found = await moved({ ...base, frames: 14, camera: { handPx: 4, handDeg: 0.3 } }, 'stabilise', {
      motionModel: 'position and rotation',
      enlarge: false,
    });
    const back = found.pictures.map((p, i) => found.running.undo!(i, p));
    expect(psnr(found.study.sequence.pictures, back, 0, 2, 12)).to.be.greaterThan(38);
  });
});
