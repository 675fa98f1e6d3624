import { expect } from 'chai';
import { spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { scoreMeasurement } from '@bevrin/core';
import { measureClip } from '@bevrin/media';
import { shippedSpecs } from '@bevrin/specs';
import { renderStudy, scatterFaults, type StudyClip } from '@bevrin/rig';
import type { Plan, Step, TreatmentName } from '@bevrin/contract';
import { shareOf } from '../support/share.js';
import { LIGHT_CASES } from './light-cases.js';
import { MOTION_CASES } from './motion-cases.js';

const WITHIN = 0.1;

const base: StudyClip = {
  study: 'wall',
  width: 384,
  height: 216,
  frames: 40,
  seed: 941,
  camera: { handPx: 0.3, handDeg: 0.01 },
  shutter: 0.2,
  noisePct: [0.4, 0.4, 0.4],
  codec: 'h264Lossless',
};

type DrawnPlan = Plan & { poses: readonly { x: number; y: number }[] };
/** Several tests look at one plan: each clip is measured once. */
const plans = new Map<StudyClip, Promise<DrawnPlan>>();
const planFor = (clip: StudyClip): Promise<DrawnPlan> => {
  const plan = plans.get(clip) ?? planned(clip);
  plans.set(clip, plan);
  return plan;
};
const planned = async (clip: StudyClip): Promise<DrawnPlan> => {
  const { path, truth } = await renderStudy(clip);
  const spec = (await shippedSpecs()).get('broadcast-hd')!;
  return { ...scoreMeasurement(await measureClip(path), spec).plan, poses: truth.poses };
};
const step = ({ steps }: Plan, treatment: TreatmentName): Step => {
  const found = steps.find((s) => s.treatment === treatment);
  if (!found) throw new Error(`the plan has no ${treatment}: ${steps.map((s) => s.treatment).join(', ')}`);
  return found;
};

describe('plans for drawn clips', function () {
  this.timeout(600_000);

  const pairs: [string, StudyClip, TreatmentName[]][] = [
    [
      'noise and flicker',
      { ...base, noisePct: [3, 3, 3], light: { pulseHz: 4.3, depth: 0.12 } },
      ['deflicker', 'reduceNoise'],
    ],
    [
      'faulty pixels and shake',
      {
        ...base,
        seed: 942,
        camera: { handPx: 5, handDeg: 0.15 },
        faults: scatterFaults(12, base.width, base.height, 942, 0.7),
      },
      ['correctPixels', 'stabilise'],
    ],
    [
      'softness and noise',
      { ...base, seed: 943, lensSigmaPx: 2.6, noisePct: [3, 3, 3] },
      ['reduceNoise', 'sharpen'],
    ],
  ];
  for (const [what, clip, treatments] of shareOf(pairs, 2))
    it(`name exactly what mends ${what}`, async () => {
      expect((await planFor(clip)).steps.map((s) => s.treatment)).to.deep.equal(treatments);
    });

  it('start with the positions of the faults, all of them in their place', async () => {
    const { settings } = step(await planFor(pairs[1][1]), 'correctPixels');
    const positions = settings.positions as number[][];
    const faults = pairs[1][1].faults ?? [];
    const right = faults.filter((f) => positions.some(([x, y]) => Math.hypot(x - f.x, y - f.y) <= 2)).length;
    expect(right).to.be.at.least((1 - WITHIN) * faults.length);
    expect(positions.length).to.be.at.most((1 + WITHIN) * faults.length);
  });

  it('ask for the crop that hides the edges, in proportion to how much of the shake goes', async () => {
    const plan = await planFor(pairs[1][1]);
    const { settings } = step(plan, 'stabilise');
    const mean = (of: (p: { x: number; y: number }) => number): number =>
      plan.poses.reduce((sum, p) => sum + of(p), 0) / plan.poses.length;
    const [mx, my] = [mean((p) => p.x), mean((p) => p.y)];
    // A pose is where the camera looks: the picture swings by as much to each side.
    const whole =
      200 *
      Math.max(
        ...plan.poses.map((p) => Math.max(Math.abs(p.x - mx) / base.width, Math.abs(p.y - my) / base.height)),
      );
    const share = Number(settings.strengthPct) / 100;
    expect(Number(settings.cropPct)).to.be.closeTo(whole * share, WITHIN * whole * share + 0.3);
  });

  it('hold one whole beat of the light in the window', async () => {
    const { clip } = LIGHT_CASES.find((c) => c.name.startsWith('slow pump'))!;
    const { settings } = step(await planFor(clip), 'deflicker');
    const frames = 25 / (clip.light?.pulseHz ?? 1);
    const window = 2 * Number(settings.framesEachSide) + 1;
    // The least odd number of frames that holds a beat.
    expect(window)
      .to.be.at.least(frames * (1 - WITHIN))
      .and.to.be.at.most(frames + 2);
  });

  it('scale a blown-up clip back to the size that its detail has', async () => {
    // A lens that fills the size: what one draws more softly says "at most", and less than its size.
    const { path } = await renderStudy({ ...base, seed: 944, noisePct: [0.2, 0.2, 0.2], lensSigmaPx: 0.45 });
    const folder = mkdtempSync(join(tmpdir(), 'bevrin-blown-up-'));
    const blownUp = join(folder, 'blown up.mkv');
    const { status, stderr } = spawnSync(
      'ffmpeg',
      ['-v', 'error', '-i', path, '-vf', 'scale=768:432:flags=bicubic', '-c:v', 'ffv1', blownUp],
      { encoding: 'utf8' },
    );
    expect(status, stderr).to.equal(0);
    const spec = (await shippedSpecs()).get('broadcast-hd')!;
    const strict = {
      ...spec,
      limits: spec.limits.map((l) => (l.reading === 'blurSigmaPx' ? { ...l, pass: 0.6, fail: 1 } : l)),
    };
    const { plan } = scoreMeasurement(await measureClip(blownUp), strict);
    rmSync(folder, { recursive: true });
    expect(Number(step(plan, 'scale').settings.nativeScale)).to.be.closeTo(0.5, WITHIN * 0.5);
  });

  it('straighten rows by the time that the sensor takes for one', async () => {
    const { clip } = MOTION_CASES.find((c) => c.clip.readout === 0.7)!;
    const { path } = await renderStudy(clip);
    const spec = (await shippedSpecs()).get('cinema-master')!;
    const strict = {
      ...spec,
      limits: spec.limits.map((l) => (l.defect === 'rollingShutter' ? { ...l, pass: 0.05, fail: 0.1 } : l)),
    };
    const { settings } = step(scoreMeasurement(await measureClip(path), strict).plan, 'straightenRows');
    const truth = (0.7 * 40_000) / clip.height;
    expect(Number(settings.rowTimeUs)).to.be.closeTo(truth, WITHIN * truth);
  });
});
