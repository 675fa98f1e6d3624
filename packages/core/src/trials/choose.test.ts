import { expect } from 'chai';
import type { Finding, HarmValues, TrialRun } from '#document';
import { choose, comparable, weigh } from './choose.js';
import { untoldBy } from './trials.js';

const NO_HARM: HarmValues = {
  detailKeptPct: 100,
  mediumDetailKeptPct: 100,
  takenStructurePct: 0,
  smearPct: null,
  ghostPct: 0,
  bendPx: 0,
  worstBendPx: 0,
  haloPct: 0,
  grainEvenness: 1,
  cropPct: 0,
  levelShiftPct: 0,
  cbShiftPct: 0,
  crShiftPct: null,
};
const run = (to: number, harm: Partial<HarmValues> = {}, more: Partial<TrialRun> = {}): TrialRun => ({
  steps: [],
  settings: {},
  gain: [{ defect: 'noise', reading: 'lumaPct', unit: '%', from: 3, to }],
  harm: { ...NO_HARM, ...harm },
  notMeasurable: {},
  worstAt: {},
  worse: [],
  secondsPerFrame: 0.2,
  file: null,
  mask: null,
  mesh: null,
  ...more,
});
const target = (): number => 1;

describe('the choice among settings', () => {
  it('takes what gains most where nothing is harmed, and counts nothing beyond the target', () => {
    expect(choose([run(2.4), run(1.8), run(1)], target).run).to.equal(2);
    expect(weigh(run(1), target).total).to.equal(weigh(run(0.2), target).total);
  });

  it('stops where more would harm more than it helps', () => {
    const sweep = [
      run(2),
      run(1.4, { detailKeptPct: 95 }),
      run(1.2, { detailKeptPct: 70 }),
      run(1, { detailKeptPct: 45 }),
    ];
    const { run: chosen, because } = choose(sweep, target);
    expect(chosen).to.equal(1);
    expect(because).to.equal('It brings noise from 3 to 1.4 %, and keeps 95 % of the fine detail.');
  });

  it('weighs each harm by how soon it is seen, and one that could not be measured not at all', () => {
    const { total } = weigh(run(1), target);
    for (const harm of [
      { smearPct: 10 },
      { ghostPct: 10 },
      { bendPx: 0.5 },
      { haloPct: 6 },
      { grainEvenness: 0.6 },
      { cropPct: 10 },
      { levelShiftPct: 1 },
      { takenStructurePct: 30 },
      { crShiftPct: 1 },
    ])
      expect(total - weigh(run(1, harm), target).total, JSON.stringify(harm)).to.be.within(0.2, 0.3);
    expect(weigh(run(1, { bendPx: null, detailKeptPct: null }), target).total).to.equal(total);
  });

  it('counts no harm that one of the settings could not show', () => {
    const seen = run(1.02, { grainEvenness: 0.5 });
    const unseen = run(1, { grainEvenness: null }, { secondsPerFrame: 0.4 });
    expect(choose([seen, unseen], target).run).to.equal(0);
    expect(comparable([seen, unseen]).map((r) => r.harm.grainEvenness)).to.deep.equal([null, null]);
    expect(comparable([seen]).map((r) => r.harm.grainEvenness)).to.deep.equal([0.5]);
  });

  it('takes the quicker of two that are as good', () => {
    const slow = run(1, { ghostPct: 0.1 }, { secondsPerFrame: 0.9 });
    expect(choose([slow, run(1.02), run(2)], target).run).to.equal(1);
    // A little more time is the machine's: what harms less is taken.
    const busy = { secondsPerFrame: 0.22 };
    expect(choose([run(1, {}, busy), run(1, { ghostPct: 0.1 })], target).run).to.equal(0);
    const atOnce = [0.006, 0.003].map((secondsPerFrame, i) =>
      run(1, { ghostPct: 0.1 * i }, { secondsPerFrame }),
    );
    expect(choose(atOnce, target).run, 'both are made as fast as they are played').to.equal(0);
  });

  it('says that no setting is worth it, and what the best of them would do', () => {
    const ruined = run(2.9, { detailKeptPct: 30, ghostPct: 22 });
    const worse = run(
      3.2,
      {},
      { worse: [{ defect: 'flicker', reading: 'depthPct', unit: '%', from: 1, to: 4 }] },
    );
    expect(choose([worse, ruined], target)).to.deep.equal({
      run: null,
      because:
        'No setting is worth it: the best of them brings noise from 3 to 3.2 %, and keeps 100 % of the fine detail, makes flicker worse, 1 to 4 %.',
    });
    expect(choose([], target).run).to.equal(null);
  });

  it('says which readings the frames do not tell, and holds nothing against a setting by frames that tell none', () => {
    const spots = { defect: 'hotPixels', reading: 'spotCount' } as const;
    const silent = run(0, { ghostPct: 3 }, { gain: [] });
    expect(choose([silent, silent], target, [spots])).to.deep.equal({
      run: null,
      because:
        'These frames do not tell lens spots: no setting can be judged by them. Try other frames, or more of them.',
    });
    expect(choose([silent], target).because).to.match(/^No reading that is judged tells what it does/);
    expect(choose([run(1)], target, [spots]), 'others are told').to.deep.equal({
      run: 0,
      because:
        'It brings noise from 3 to 1 %, and keeps 100 % of the fine detail. These frames do not tell lens spots.',
    });
  });

  it('knows of a reading that it is not told where the clip has it and a run lacks it', () => {
    const finding = (reading: string, value: number | null): Finding =>
      ({ defect: 'noise', reading, value }) as Finding;
    const steps: TrialRun['steps'] = [{ treatment: 'reduceNoise', settings: {} }];
    const runs = [run(1, {}, { steps }), run(2, {}, { steps })];
    const clip = [finding('lumaPct', 3), finding('redPct', 2), finding('bluePct', null)];
    const other = { ...finding('depthPct', 6), defect: 'flicker' } as Finding;
    expect(untoldBy(runs, [...clip, other]).map((f) => f.reading)).to.deep.equal(['redPct']);
    expect(untoldBy([runs[0], { ...runs[1], gain: [] }], clip).map((f) => f.reading)).to.deep.equal([
      'lumaPct',
      'redPct',
    ]);
  });
});
