import { mkdtemp, rm, stat } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect } from 'chai';
import { Trial } from '@bevrin/contract';
import { openSource, probeClip } from '@bevrin/media';
import { renderStudy, type StudyClip } from '@bevrin/rig';
import { inItsProcess, inThisProcess } from '../../../tests/support/command.js';
import { run } from './try.js';

const noisy: StudyClip = {
  study: 'wall',
  width: 240,
  height: 136,
  frames: 24,
  camera: { handPx: 2 },
  shutter: 0.2,
  noisePct: [3, 3, 3],
  format: { bitDepth: 10, chroma: '422' },
  codec: 'prores',
  seed: 1601,
};

const tried = inThisProcess(run);
const trialFrom = (stdout: string): Trial => Trial.parse(JSON.parse(stdout));

describe('the command that tries', function () {
  this.timeout(240_000);
  let path: string;
  let out: string;
  before(async () => {
    ({ path } = await renderStudy(noisy));
    out = await mkdtemp(join(tmpdir(), 'bevrin-try-'));
  });
  after(() => rm(out, { recursive: true }));

  it('compares the settings of a sweep, keeps their frames at the depth of the clip, and chooses one', async () => {
    const { status, stdout } = await tried(
      ...[path, '--treatment', 'reduceNoise', '--sweep', 'framesEachSide=1,3', '--range', '8-15'],
      ...['--out', out, '--json'],
    );
    expect(status).to.equal(0);
    const { runs, range, choice } = trialFrom(stdout);
    expect(range).to.deep.equal({ startFrame: 8, endFrame: 15 });
    expect(runs.map((r) => r.settings.framesEachSide)).to.deep.equal([1, 3]);
    const left = runs.map((r) => r.gain.find((g) => g.reading === 'lumaPct')!);
    expect(left[0].from).to.be.within(1.5, 3.5);
    expect(left[0].to).to.be.below(0.75 * left[0].from);
    expect(left[1].to).to.be.below(left[0].to);
    for (const { harm, file, secondsPerFrame } of runs) {
      expect(harm.detailKeptPct).to.be.within(85, 105);
      expect(harm.ghostPct).to.be.below(5);
      expect(secondsPerFrame).to.be.greaterThan(0);
      const { facts } = await probeClip(await openSource(file!));
      expect([facts.frames, facts.bitDepth, facts.width, facts.height]).to.deep.equal([8, 10, 240, 136]);
    }
    expect(choice.run).to.be.oneOf([0, 1]);
    expect(choice.because).to.match(
      /^It brings noise from [\d.]+ to [\d.]+ %, .*keeps \d+ % of the fine detail/,
    );
  });

  it('tries what the plan proposes where no setting is named, and prints it for people', async () => {
    const { status, stdout } = await tried(path, '--treatment', 'reduceNoise', '--range', '10-14');
    expect(status).to.equal(0);
    expect(stdout)
      .to.match(/frames 10 to 14/)
      .and.to.match(/→ \d {2}framesEachSide \d/);
    expect(stdout)
      .to.match(/lumaPct +[\d.]+ → [\d.]+ %/)
      .and.to.match(/fine detail kept +\d+/);
  });

  it('runs the whole plan in its order', async () => {
    const { status, stdout } = await tried(path, '--plan', '--range', '10-14', '--json');
    expect(status).to.equal(0);
    const { runs } = trialFrom(stdout);
    expect(runs).to.have.length(1);
    expect(runs[0].steps.map((s) => s.treatment)).to.include('reduceNoise');
    expect(runs[0].file).to.equal(null);
  });

  it('says so where the plan has nothing to try', async () => {
    const { status, stdout } = await tried(path, '--treatment', 'deflicker', '--json');
    expect(status).to.equal(0);
    const { runs, choice } = trialFrom(stdout);
    expect(runs).to.deep.equal([]);
    expect(choice.run).to.equal(null);
    expect(choice.because).to.match(/does not propose deflicker.*Name settings to try it all the same/);
  });

  it('says that frames do not tell what a treatment is for, and proposes nothing by them', async () => {
    const { status, stdout } = await tried(path, '--treatment', 'stabilise', '--range', '10-12', '--json');
    expect(status).to.equal(0);
    const { runs, choice } = trialFrom(stdout);
    expect(runs.flatMap((r) => r.gain)).to.deep.equal([]);
    expect(choice.run).to.equal(null);
    expect(choice.because).to.match(/^These frames do not tell shake.*Try other frames, or more of them\.$/);
  });

  it('ends with 2 and one clear line on what cannot be tried', async () => {
    for (const [args, says] of [
      [
        ['--treatment', 'reduceNoise', '--range', '20-40'],
        'frames 20 to 40 are not all there: it has frames 0 to 23',
      ],
      [['--treatment', 'reduceNoise', '--range', 'x'], 'two frame numbers are expected'],
      [['--treatment', 'reduceNoise', '--settings', '{"radius":2}'], 'There is no setting radius'],
      [
        ['--treatment', 'reduceNoise', '--settings', '{"framesEachSide":99}'],
        'it must lie between 0 and 9 frames',
      ],
      [['--treatment', 'reduceNoise', '--settings', 'no'], 'JSON is expected'],
      [['--treatment', 'reduceNoise', '--sweep', 'framesEachSide'], 'a setting and its values are expected'],
      [
        ['--treatment', 'reduceNoise', '--sweep', 'framesEachSide=1,2', '--sweep', 'framesEachSide=3'],
        'Two different settings',
      ],
      [['--treatment', 'polish'], 'There is no treatment polish'],
      [['--treatment', 'conform'], 'conform cannot be tried yet'],
      [['--plan', '--treatment', 'reduceNoise'], '--plan takes every step'],
      [[], 'Name a --treatment, or take the whole --plan'],
    ] as const) {
      const { status, stdout, stderr } = await tried(path, ...args);
      expect(status, stderr).to.equal(2);
      expect(stdout).to.equal('');
      expect(stderr).to.include(says);
      expect(stderr.trim().split('\n')).to.have.length(1);
    }
    const short = (await renderStudy({ ...noisy, frames: 2, codec: 'ffv1' })).path;
    const { status, stderr } = await tried(short, '--treatment', 'reduceNoise');
    expect(status).to.equal(2);
    expect(stderr).to.include('it has 2 frames: a trial takes 3 at least');
  });

  it('ends with 1 when the clip cannot be read', async () => {
    const { status, stderr } = inItsProcess('try', join(out, 'none.mov'), '--treatment', 'reduceNoise');
    expect(status).to.equal(1);
    expect(stderr).to.include('none.mov');
    expect((await stat(out)).isDirectory()).to.equal(true);
  });
});
