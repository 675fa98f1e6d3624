import { expect } from 'chai';
import type { ClipTrial, HarmValues, Trial, TrialRun } from '@bevrin/contract';
import { HARM_NAMES } from '@bevrin/contract';
import { placesOf, sweepFrom } from './asking.js';
import { againstOf, opened } from './useTrying.js';
import { groupsOf, harmRows, othersOf, runLabel, runValue, settingsFor, sweptName } from './words.js';

const HARMLESS = Object.fromEntries(HARM_NAMES.map(([name]) => [name, null])) as HarmValues;

const ran = (settings: TrialRun['settings'], steps: TrialRun['steps'] = []): TrialRun => ({
  steps: steps.length > 0 ? steps : [{ treatment: 'reduceNoise', settings }],
  settings,
  gain: [],
  harm: { ...HARMLESS, detailKeptPct: 91.2 },
  notMeasurable: { smearPct: 'Nothing goes its own way.' },
  worstAt: {},
  worse: [],
  secondsPerFrame: 1,
  file: 'run-1.mkv',
  mask: null,
  mesh: null,
});
const trialOf = (runs: TrialRun[], choice: number | null = 0): Trial => ({
  schema: 'bevrin.trial/1',
  clip: 'a.mov',
  range: { startFrame: 10, endFrame: 19 },
  runs,
  choice: { run: choice, because: 'It is enough.' },
});
const kept = (id: string, trial: Trial | null, more: Partial<ClipTrial> = {}): ClipTrial => ({
  id,
  clipId: 'c',
  treatment: 'reduceNoise',
  who: '',
  state: 'done',
  progress: 1,
  secondsLeft: null,
  error: null,
  frames: true,
  createdAt: '2026-01-01T09:30:00.000Z',
  trial,
  ...more,
});

const one = trialOf(
  [ran({ framesEachSide: 1, lumaStrengthPct: 9 }), ran({ framesEachSide: 3, lumaStrengthPct: 9 })],
  1,
);
const two = trialOf(
  [1, 3].flatMap((framesEachSide) =>
    [0, 50].map((spatialStrengthPct) => ran({ framesEachSide, spatialStrengthPct })),
  ),
);

describe('a trial in words', () => {
  it('names a run by what sets it apart from the others', () => {
    expect(sweptName(one)).to.equal('frames each side');
    expect(runValue(one, 1)).to.equal('3');
    expect(runLabel(one, 1)).to.contain('frames each side 3').and.to.not.contain('luma');
    expect(runValue(two, 3)).to.equal('3 / 50');
    expect(sweptName(two)).to.equal('frames each side / averaging over space, %');
    expect(runValue(trialOf([ran({ framesEachSide: 2 })]), 0)).to.equal('as set');
  });

  it('names a whole plan by its steps, and a step that ran after another by its own setting', () => {
    const steps = (['reduceNoise', 'grain'] as const).map((treatment) => ({ treatment, settings: {} }));
    const plan = trialOf([ran({ sharePct: 5 }, steps)]);
    expect(runLabel(plan, 0)).to.equal('Reduce noise, Bring grain back');
    expect(runValue(plan, 0)).to.equal('as planned');
    const grain = trialOf([ran({ sharePct: 5 }, steps), ran({ sharePct: 10 }, steps)]);
    expect(runLabel(grain, 1)).to.contain('10');
  });

  it('parts the runs by their second setting, each group in the order of the first', () => {
    expect(groupsOf(two).map((g) => g.runs)).to.deep.equal([
      [0, 2],
      [1, 3],
    ]);
    expect(groupsOf(two)[1].name).to.match(/50.%/);
    expect(groupsOf(one)).to.deep.equal([{ name: '', runs: [0, 1] }]);
    expect(groupsOf(null)).to.deep.equal([]);
  });

  it('says of each figure of harm what it is, or why it is not there', () => {
    const rows = harmRows(one.runs[0]);
    expect(rows).to.have.length(HARM_NAMES.length);
    expect(rows.find((r) => r.name === 'detailKeptPct')).to.include({ text: '91.2 %', why: null });
    expect(rows.find((r) => r.name === 'smearPct')).to.include({
      text: 'not measurable',
      why: 'Nothing goes its own way.',
    });
  });

  it('takes into the plan only what its step has, and only what differs', () => {
    const step = { settings: { framesEachSide: 1, lumaStrengthPct: 9 } };
    expect(settingsFor(step, one.runs[1])).to.deep.equal({ framesEachSide: 3 });
    expect(settingsFor({ settings: { lumaStrengthPct: 9 } }, one.runs[1])).to.deep.equal({});
  });
});

describe('a trial that is open', () => {
  const [first, second] = [kept('1', one), kept('2', two, { createdAt: '2026-01-01T10:45:00.000Z' })];
  const open = { job: first, trialId: '1', run: 1 };

  it('is the one that was chosen, else the one behind the step, else the newest, at the proposed setting', () => {
    const step = { tried: { trial: '1', run: 0 } } as never;
    expect(opened([first, second], 'reduceNoise', null, { trialId: '1', run: 0 })).to.include({ run: 0 });
    expect(opened([first, second], 'reduceNoise', step, null)).to.include({ trialId: '1', run: 0 });
    expect(opened([first, second], 'reduceNoise', null, null)).to.include({ trialId: '2', run: 0 });
    expect(opened([first], 'reduceNoise', null, null)).to.include({ run: 1 });
    expect(opened([first], 'deflicker', null, null)).to.equal(null);
    expect(opened([kept('3', null)], 'reduceNoise', null, null)).to.equal(null);
  });

  it('may be set against every other setting whose frames are kept, this trial first', () => {
    expect(othersOf([first, second], open).map((o) => [o.trialId, o.run])).to.deep.equal([
      ['1', 0],
      ['2', 0],
      ['2', 1],
      ['2', 2],
      ['2', 3],
    ]);
    expect(othersOf([first, second], open)[1].label).to.contain('10:45');
    expect(othersOf([first, kept('2', two, { frames: false })], open)).to.have.length(1);
    expect(othersOf([first, kept('2', two, { treatment: 'deflicker' })], open)).to.have.length(1);
  });

  it('is set against nothing that is gone', () => {
    const against = (trials: ClipTrial[], run: number) =>
      againstOf(trials, 'reduceNoise', { trialId: '2', run });
    expect(against([first, second], 2)).to.deep.include({ trialId: '2', run: 2, range: two.range });
    expect(against([first, second], 9)).to.equal(null);
    expect(against([first, kept('2', two, { frames: false })], 2)).to.equal(null);
    expect(against([first], 2)).to.equal(null);
    expect(againstOf([first, second], 'deflicker', { trialId: '2', run: 0 })).to.equal(null);
  });
});

describe('asking for a trial', () => {
  const none = { key: '', values: '' };

  it('reads values of one setting and of a second', () => {
    expect(sweepFrom('framesEachSide', '', none)).to.equal(undefined);
    expect(sweepFrom('framesEachSide', '1, 2;4', none)).to.deep.equal({
      key: 'framesEachSide',
      values: [1, 2, 4],
    });
    expect(sweepFrom('framesEachSide', '1 2', { key: 'finePct', values: '50 100' })).to.deep.equal({
      key: 'framesEachSide',
      values: [1, 2],
      and: { key: 'finePct', values: [50, 100] },
    });
  });

  it('says what is wrong with them', () => {
    expect(sweepFrom('framesEachSide', '1 x', none)).to.contain('up to nine figures');
    expect(sweepFrom('framesEachSide', '1 2 3 4 5 6 7 8 9 10', none)).to.contain('up to nine');
    expect(sweepFrom('framesEachSide', '', { key: 'finePct', values: '1 2' })).to.contain(
      'frames each side too',
    );
    const nine = '1 2 3 4 5 6 7 8 9';
    expect(sweepFrom('framesEachSide', nine, { key: 'finePct', values: nine })).to.contain(
      'leave some values out',
    );
  });

  it('works in what was drawn on the clip, masks by the boxes about them', () => {
    expect(placesOf({}).map((p) => p.place)).to.deep.equal(['whole']);
    const triangle = {
      kind: 'polygon' as const,
      points: [
        [10, 20],
        [40, 20],
        [25, 50],
      ] as [number, number][],
    };
    const places = placesOf({ interest: { x: 1, y: 2, width: 3, height: 4 }, masks: [{ shape: triangle }] });
    expect(places.map((p) => p.place)).to.deep.equal(['whole', 'interest', 'masks', 'notMasks']);
    expect(places[2]).to.deep.include({ regions: [[10, 20, 30, 30]], keepFrom: false });
    expect(places[3].keepFrom).to.equal(true);
  });
});
