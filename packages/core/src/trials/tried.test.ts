import { expect } from 'chai';
import {
  isExpectedAsTried,
  isOfReading,
  type Decision,
  type DecisionMade,
  type HarmValues,
  type Trial,
  type TrialRun,
} from '#document';
import { HOUSE_SPEC as spec, measurementWith } from '../../../../tests/support/measurement.js';
import { decidedPlan } from '../planning/decide.js';
import { scoreMeasurement } from '../scoring/score.js';
import { openedWith, withTrials, type KeptTrial } from './tried.js';

const measurement = measurementWith({
  noise: { lumaPct: 3 },
  flicker: { depthPct: 6, frequencyHz: 4, pattern: 'whole-frame' },
});
const { plan, findings } = scoreMeasurement(measurement, spec);
const planned = plan.steps.find((s) => s.treatment === 'reduceNoise')!;

const ran = (framesEachSide: number, to: number, before: TrialRun['steps'] = []): TrialRun => {
  const settings = { ...planned.settings, framesEachSide };
  return {
    steps: [...before, { treatment: 'reduceNoise', settings }],
    settings,
    // The frames of the trial are half as noisy as the clip.
    gain: [{ defect: 'noise', reading: 'lumaPct', unit: '%', from: 1.5, to }],
    harm: { detailKeptPct: 97 } as HarmValues,
    notMeasurable: {},
    worstAt: {},
    worse: [],
    secondsPerFrame: 0.2,
    file: null,
    mask: null,
    mesh: null,
  };
};
const kept = (
  id: string,
  runs: TrialRun[],
  choice: number | null,
  by: KeptTrial['by'] = 'machine',
): KeptTrial => ({
  id,
  treatment: 'reduceNoise',
  by,
  trial: {
    schema: 'bevrin.trial/1',
    clip: 'a.mov',
    range: { startFrame: 4, endFrame: 13 },
    runs,
    choice: { run: choice, because: choice === null ? 'No setting is worth it.' : 'It is enough.' },
  } satisfies Trial,
});
const made = (...decisions: Decision[]): DecisionMade[] =>
  decisions.map((decision, i) => ({
    id: i + 1,
    who: 'Ines',
    at: '2026-01-01T00:00:00.000Z',
    undone: false,
    decision,
  }));

const noiseAfter = (trials: readonly KeptTrial[], ...decisions: Decision[]) => {
  const history = made(...decisions);
  const opened = openedWith(plan, trials);
  const decided = decidedPlan(opened, findings, measurement, history);
  return withTrials(decided, trials, { decisions: history, findings, clip: measurement.clip }).steps.find(
    (s) => s.treatment === 'reduceNoise',
  )!;
};
const own = Number(planned.settings.framesEachSide);

describe('a plan after trials', () => {
  it('opens with the setting that the machine chose, and says what was found', () => {
    const step = noiseAfter([kept('1', [ran(own, 0.3), ran(own - 2, 0.4)], 1)]);
    expect(step.settings.framesEachSide).to.equal(own - 2);
    expect(step.tried).to.include({ trial: '1', run: 1, by: 'machine', because: 'It is enough.' });
    // What is left is a share of what was there: 0.4 of 1.5, of 3 %.
    expect(step.expect).to.include({ from: 3, to: 0.8 });
    expect(step.cost.renderWeight).to.equal(5);
    expect(step.confidence).to.equal(0.95);
  });

  it('gives the chance by what the trial came to', () => {
    const chanceOf = (to: number): number => noiseAfter([kept('1', [ran(own, to)], 0)]).confidence;
    const limit = findings.find(isOfReading({ defect: 'noise', reading: 'lumaPct' }))!;
    expect(chanceOf(0.5 * 0.9 * limit.pass)).to.equal(0.95);
    expect(chanceOf(0.25 * (limit.pass + limit.fail))).to.equal(0.6);
    expect(chanceOf(0.5 * 1.2 * limit.fail)).to.equal(0.2);
  });

  it('changes nothing by a trial that a person asked for, until its setting is taken', () => {
    const asked = kept('2', [ran(1, 0.9)], 0, 'person');
    expect(noiseAfter([asked]).settings.framesEachSide).to.equal(own);
    expect(noiseAfter([asked]).tried ?? null).to.equal(null);
    const step = noiseAfter([asked], {
      kind: 'settings',
      treatment: 'reduceNoise',
      settings: { framesEachSide: 1 },
      trial: { id: '2', run: 0 },
    });
    expect(step.tried).to.include({ trial: '2', run: 0, by: 'person' });
    expect(step.expect.to).to.equal(1.8);
  });

  it('keeps the trial that a setting was taken from, whatever came later', () => {
    const [first, later] = [kept('1', [ran(2, 0.9)], 0, 'person'), kept('2', [ran(2, 0.2)], 0, 'person')];
    const take: Decision = {
      kind: 'settings',
      treatment: 'reduceNoise',
      settings: { framesEachSide: 2 },
      trial: { id: '1', run: 0 },
    };
    expect(noiseAfter([first, later], take).tried).to.include({ trial: '1' });
    // Set by hand afterwards, it is what ran with that setting last.
    const byHand: Decision = { kind: 'settings', treatment: 'reduceNoise', settings: { framesEachSide: 2 } };
    expect(noiseAfter([first, later], take, byHand).tried).to.include({ trial: '2' });
    const untried: Decision = { ...byHand, settings: { framesEachSide: 8 } };
    expect(noiseAfter([first, later], take, untried).tried ?? null).to.equal(null);
  });

  it('says so where no setting was worth it, and promises nothing by it', () => {
    const step = noiseAfter([kept('1', [ran(own, 1.4)], null)]);
    expect(step.tried).to.include({ run: null, because: 'No setting is worth it.' });
    expect(step.expect).to.deep.equal(planned.expect);
    expect(step.confidence).to.equal(0.05);
  });

  it('leaves the chance and what is expected as they were where the frames do not tell', () => {
    const silent = kept('1', [{ ...ran(own, 1.4), gain: [] }], null);
    const step = noiseAfter([silent]);
    expect(step.tried).to.include({ run: 0, because: 'No setting is worth it.' });
    expect(step.expect).to.deep.equal(planned.expect);
    expect(step.confidence).to.equal(planned.confidence);
    expect(isExpectedAsTried(step)).to.equal(false);
    expect(isExpectedAsTried(noiseAfter([kept('1', [ran(own, 0.3)], 0)]))).to.equal(true);
  });

  it('reckons from the clip where the step ran after others in its trial', () => {
    const before: TrialRun['steps'] = [{ treatment: 'deflicker', settings: {} }];
    const step = noiseAfter([kept('1', [ran(own, 0.3, before)], 0)]);
    expect(step.expect.to).to.equal(0.6);
  });
});
