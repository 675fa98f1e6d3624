import { expect } from 'chai';
import type { Step } from '@bevrin/contract';
import { runnerOf, SettingUnusable, TreatmentUnusable } from '@bevrin/core';
import { measurementWith } from '../../../../tests/support/measurement.js';
import type { ProbedClip } from '../probe.js';
import { checkOrder, nothingToTry, rangeOf, refuse, stepsToTry, TrialUnusable, windowOf } from './order.js';

const { clip } = measurementWith();
const clipOf = (facts: Partial<ProbedClip['facts']> = {}): ProbedClip =>
  ({
    source: { path: '/in/a.mov' },
    facts: { ...clip, ...facts },
    format: { planar: 'yuv420p', log2ChromaWidth: 1, log2ChromaHeight: 1, grey: false },
  }) as unknown as ProbedClip;
const step = (treatment: Step['treatment'], settings: Step['settings']) => ({ treatment, settings }) as Step;
const noise = step('reduceNoise', { framesEachSide: 5, lumaStrengthPct: 6, grainBackPct: 0.2 });
const grain = step('grain', { sharePct: 10, lumaPct: 3 });
const spec = {} as never;

describe('what is tried', () => {
  it('is the step of the plan with values about its own, and a few of them where few are wanted', () => {
    const runs = stepsToTry({ treatment: 'reduceNoise', spec }, [noise]);
    expect(runs.map(([{ settings }]) => settings.framesEachSide)).to.deep.equal([1, 2, 5, 6, 8]);
    expect(runs[0][0].settings).to.include({ lumaStrengthPct: 6 });
    const few = stepsToTry({ treatment: 'reduceNoise', spec, mostValues: 3 }, [noise]);
    expect(few.map(([{ settings }]) => settings.framesEachSide)).to.deep.equal([1, 5, 8]);
  });

  it('leaves out what a plan of long ago held and no treatment knows, but not what is asked for', () => {
    expect(stepsToTry({ treatment: 'reduceNoise', spec }, [noise])[0][0].settings).to.not.have.property(
      'grainBackPct',
    );
    expect(() =>
      stepsToTry({ treatment: 'reduceNoise', spec, settings: { grainBackPct: 1 } }, [noise]),
    ).to.throw(SettingUnusable, 'grainBackPct');
  });

  it('takes settings as they are named, and sweeps two of them each with each', () => {
    const named = { treatment: 'reduceNoise', spec, settings: { framesEachSide: 2 } };
    expect(stepsToTry(named, [noise])).to.have.length(1);
    const sweep = { key: 'framesEachSide', values: [1, 2], and: { key: 'finePct', values: [50, 100] } };
    expect(
      stepsToTry({ ...named, sweep }, [noise]).map(([{ settings }]) => [
        settings.framesEachSide,
        settings.finePct,
      ]),
    ).to.deep.equal([
      [1, 50],
      [1, 100],
      [2, 50],
      [2, 100],
    ]);
  });

  it('runs grain after the noise that it follows, as that was decided', () => {
    const decided = step('reduceNoise', { framesEachSide: 3 });
    const runs = stepsToTry({ treatment: 'grain', spec, plan: [decided, grain] }, [noise, grain]);
    for (const run of runs) {
      expect(run.map((r) => r.runner.treatment)).to.deep.equal(['reduceNoise', 'grain']);
      expect(run[0].settings.framesEachSide).to.equal(3);
      expect(windowOf(run)).to.equal(3);
    }
    expect(stepsToTry({ treatment: 'grain', spec, settings: { sharePct: 5 } }, [])[0]).to.have.length(1);
  });

  it('is the plan in its order, without what is not done on single frames', () => {
    const [run] = stepsToTry({ treatment: null, spec }, [
      step('conform', { fact: 'frameRate' }),
      noise,
      grain,
    ]);
    expect(run.map((r) => r.runner.treatment)).to.deep.equal(['reduceNoise', 'grain']);
    expect(stepsToTry({ treatment: null, spec }, [step('conform', {})])).to.deep.equal([]);
  });

  it('is refused with what is wrong and what to do', () => {
    const last = clip.frames - 1;
    expect(() => refuse(clipOf({ frames: 2 }))).to.throw(TrialUnusable, 'Take a longer clip');
    expect(() => refuse(clipOf({ height: 100 }))).to.throw(TrialUnusable, 'too small');
    expect(() => refuse(clipOf({ scan: 'interlaced' }))).to.throw(TrialUnusable, 'conform it first');
    refuse(clipOf());
    const order = { treatment: 'reduceNoise', spec };
    expect(() => checkOrder({ ...order, range: { startFrame: 5, endFrame: last + 1 } }, clipOf())).to.throw(
      TrialUnusable,
      `frames 0 to ${last}`,
    );
    expect(() => checkOrder({ ...order, range: { startFrame: 9, endFrame: 5 } }, clipOf())).to.throw(
      TrialUnusable,
    );
    expect(() => checkOrder({ ...order, treatment: 'polish' }, clipOf())).to.throw(
      TreatmentUnusable,
      'polish',
    );
    const sweep = { key: 'framesEachSide', values: [1, 99] };
    expect(() => checkOrder({ ...order, sweep }, clipOf())).to.throw(SettingUnusable, '99');
    expect(nothingToTry('sharpen', [noise])).to.contain('but reduceNoise');
    expect(nothingToTry(null, [])).to.contain('needs no repair');
  });

  it('lies about the worst moment, a second long, and no more than memory holds', () => {
    const range = (more: object, facts: Partial<ProbedClip['facts']> = {}) =>
      rangeOf(
        { treatment: 'reduceNoise', spec, ...more },
        clipOf(facts),
        measurementWith(),
        runnerOf('reduceNoise'),
      );
    const length = ({ startFrame, endFrame }: { startFrame: number; endFrame: number }): number =>
      endFrame - startFrame + 1;
    expect(length(range({}))).to.equal(25);
    expect(length(range({ mostFrames: 10 }))).to.equal(10);
    expect(length(range({ mostBytes: 1920 * 1080 * 1.5 * 6 }))).to.equal(6);
    expect(length(range({ mostBytes: 1 }))).to.equal(3);
    expect(range({ range: { startFrame: 3, endFrame: 4 } })).to.deep.equal({ startFrame: 3, endFrame: 4 });
    const spots = { ...runnerOf('reduceNoise'), judgedOverFrames: 40 };
    const judged = (mostBytes: number): number =>
      length(rangeOf({ treatment: 'reduceNoise', spec, mostBytes }, clipOf(), measurementWith(), spots));
    expect(judged(1), 'as many as it is judged over, however few are wanted').to.equal(40);
    const short = range({}, { frames: 12, durationSec: 12 / 25 });
    expect(short).to.deep.equal({ startFrame: 0, endFrame: 11 });
  });
});
