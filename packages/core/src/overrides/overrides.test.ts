import { expect } from 'chai';
import { DEFECTS, type DecisionMade, type Decision, type Overrides, type Region } from '#document';
import { HOUSE_SPEC, measurementWith } from '../../../../tests/support/measurement.js';
import { concernedBy, remeasurementFor, withReadingsOf } from './remeasure.js';
import { whyUnusable } from './check-overrides.js';
import { decidedPlan, frameNotesOf, overridesAfter, standingOf } from '../planning/decide.js';
import { scoreMeasurement } from '../scoring/score.js';
import { judgedReading } from '../scoring/judged-reading.js';
import { worstMomentOf } from '../scoring/worst-moment.js';

const made = (decisions: readonly Decision[], undone: readonly number[] = []): DecisionMade[] =>
  decisions.map((decision, i) => ({
    id: i + 1,
    who: 'Ines',
    at: '2026-01-01T00:00:00.000Z',
    undone: undone.includes(i),
    decision,
  }));

describe('overruling', () => {
  it('asks only the measures that a decision concerns', () => {
    const patch = { x: 0, y: 0, width: 64, height: 64 };
    expect(concernedBy({}, { intent: 'locked-off' })).to.deep.equal(['shake']);
    expect(concernedBy({}, { noisePatch: patch })).to.deep.equal(['noise']);
    expect(concernedBy({}, { viewing: { kind: 'lift', stops: 2 } })).to.deep.equal(['noise']);
    expect(concernedBy({}, { interest: patch })).to.deep.equal(['softness']);
    expect(concernedBy({ intent: 'panning', noisePatch: patch }, { noisePatch: patch })).to.deep.equal([
      'shake',
    ]);
    expect(concernedBy({}, { masks: [{ shape: { kind: 'rectangle', ...patch } }] })).to.deep.equal([
      ...DEFECTS,
    ]);
    expect(concernedBy({}, { range: { startFrame: 1, endFrame: 9 } })).to.deep.equal([...DEFECTS]);
    expect(concernedBy({ intent: 'panning' }, { intent: 'panning' })).to.deep.equal([]);
  });

  it('measures as little as what is known leaves, and nothing that still holds', () => {
    const patch = { x: 0, y: 0, width: 64, height: 64 };
    const [machine, patched] = [measurementWith(), measurementWith({ noise: { lumaPct: 2 } })];
    const known = [
      { measurement: machine, under: {} },
      { measurement: patched, under: { noisePatch: patch } },
    ];
    expect(remeasurementFor(known, { noisePatch: patch })).to.deep.equal({ keep: patched, only: [] });
    expect(remeasurementFor(known, {})).to.deep.equal({ keep: machine, only: [] });
    expect(remeasurementFor(known, { noisePatch: patch, intent: 'panning' })).to.deep.equal({
      keep: patched,
      only: ['shake'],
    });
    expect(remeasurementFor(known, { range: { startFrame: 1, endFrame: 9 } })).to.deep.equal({
      keep: null,
      only: DEFECTS,
    });
    expect(remeasurementFor([], {})).to.deep.equal({ keep: null, only: DEFECTS });
  });

  it('leaves every other reading as it was', () => {
    const before = measurementWith({ noise: { lumaPct: 1 }, flicker: { depthPct: 4 } });
    const again = {
      ...measurementWith({ noise: { lumaPct: 2 } }),
      measuredUnder: { intent: 'panning' as const },
    };
    const after = withReadingsOf(before, again, ['noise']);
    expect(after.readings.noise).to.equal(again.readings.noise);
    expect(after.readings.flicker).to.equal(before.readings.flicker);
    expect(after.measuredUnder).to.deep.equal({ intent: 'panning' });
  });

  it('says what cannot be meant, and what to do', () => {
    const { clip } = measurementWith();
    const box = (x: number, width: number): Overrides => ({ interest: { x, y: 10, width, height: 40 } });
    expect(whyUnusable(box(10, 40), clip)).to.equal(null);
    expect(whyUnusable(box(2000, 40), clip)).to.match(/outside the picture of 1920 × 1080.*Draw it again/);
    expect(whyUnusable(box(10, 2), clip)).to.match(/smaller than 4 × 4.*Draw it larger/);
    expect(whyUnusable({ range: { startFrame: 100, endFrame: 200 } }, clip)).to.match(/last frame, 99/);
    expect(
      whyUnusable({ viewing: { kind: 'cube', name: 'a.cube', text: 'LUT_3D_SIZE 2\nx' } }, clip),
    ).to.match(/a\.cube, line 2/);
    const outside: Overrides = {
      masks: [
        {
          shape: {
            kind: 'polygon',
            points: [
              [-9, -9],
              [-5, -9],
              [-5, -2],
            ],
          },
        },
      ],
    };
    expect(whyUnusable(outside, clip)).to.match(/^mask 1/);
  });

  it('takes the last word that was not taken back', () => {
    const decisions: Decision[] = [
      { kind: 'overrule', overrides: { intent: 'panning' } },
      { kind: 'overrule', overrides: { intent: 'locked-off' } },
      { kind: 'frameNote', frame: 30, text: 'b' },
      { kind: 'frameNote', frame: 10, text: 'a' },
    ];
    expect(overridesAfter(made(decisions))).to.deep.equal({ intent: 'locked-off' });
    expect(overridesAfter(made(decisions, [1]))).to.deep.equal({ intent: 'panning' });
    expect(overridesAfter(made(decisions, [0, 1]))).to.deep.equal({});
    expect(frameNotesOf(made(decisions)).map((n) => n.text)).to.deep.equal(['a', 'b']);
    expect(frameNotesOf(made(decisions, [3])).map((n) => n.text)).to.deep.equal(['b']);
  });

  it('gives a list the same verdict as the decided plan, whatever was set aside', () => {
    const measurement = measurementWith({
      noise: { lumaPct: 3 },
      flicker: { depthPct: 5, frequencyHz: 4, pattern: 'whole-frame' },
    });
    const { plan, findings } = scoreMeasurement(measurement, HOUSE_SPEC);
    const noise: Decision = { kind: 'notDefect', defect: 'noise', reading: 'lumaPct', reason: 'Grain.' };
    const flicker: Decision = { kind: 'waive', defect: 'flicker', reading: 'depthPct', reason: 'Agreed.' };
    for (const decisions of [
      [],
      [noise],
      [flicker],
      [noise, flicker],
      [noise, flicker, { kind: 'approve' }],
    ]) {
      const history = made(decisions as Decision[]);
      const decided = decidedPlan(plan, findings, measurement, history);
      const standing = standingOf(findings, history);
      expect(standing.verdict).to.equal(decided.verdict);
      expect(standing.approved).to.equal(decided.approved !== null);
      expect(decided.steps.some((s) => s.defect === 'noise')).to.equal(!decisions.includes(noise as never));
    }
    expect(standingOf(findings, made([noise, flicker])).verdict).to.equal('pass');
    expect(standingOf(findings, made([noise, flicker], [0])).verdict).to.equal('fail');
  });
});

describe('a region of interest', () => {
  const region = (x: number): Region => ({
    x,
    y: 20,
    width: 100,
    height: 100,
    startFrame: 0,
    endFrame: 99,
    strength: 1,
  });
  const banded = (x: number, interest?: Overrides['interest']) => {
    const plain = measurementWith();
    return {
      ...plain,
      measuredUnder: interest ? { interest } : {},
      readings: {
        ...plain.readings,
        banding: {
          state: 'measured' as const,
          reason: null,
          confidence: 1,
          values: {
            areaPct: 10,
            stepPct: 1,
            index: 50,
            effectiveBits: 8,
            histogram: { firstCode: 0, counts: [] },
          },
          series: {},
          regions: [region(x)],
        },
      },
    };
  };
  const interest = { x: 0, y: 0, width: 200, height: 200 };

  it('makes what lies in it weigh in full, even at the edge, and what lies outside least', () => {
    const plain = judgedReading(banded(20), 'banding', 'index');
    const inside = judgedReading(banded(20, interest), 'banding', 'index');
    const outside = judgedReading(banded(900, interest), 'banding', 'index');
    expect(plain.inInterest).to.equal(null);
    expect(plain.visibility.place).to.be.within(0, 0.2);
    expect([inside.inInterest, inside.visibility.place]).to.deep.equal([true, 1]);
    expect([outside.inInterest, outside.visibility.place]).to.deep.equal([false, 0]);
  });

  it('says nothing about what is all over the picture', () => {
    const seen = judgedReading({ ...measurementWith(), measuredUnder: { interest } }, 'noise', 'lumaPct');
    expect([seen.inInterest, seen.visibility.place]).to.deep.equal([null, 1]);
  });
});

describe('the worst moment', () => {
  it('is where the strongest place is, inside the frames in which it is there', () => {
    const plain = measurementWith();
    const pixels = [
      { x: 5, y: 5, width: 1, height: 1, startFrame: 0, endFrame: 99, strength: 1 },
      { x: 9, y: 9, width: 1, height: 1, startFrame: 40, endFrame: 60, strength: 3 },
    ];
    const { hotPixels } = plain.readings;
    if (hotPixels.state !== 'measured') throw new Error('the fixture has changed');
    const measurement = {
      ...plain,
      readings: { ...plain.readings, hotPixels: { ...hotPixels, regions: pixels } },
    };
    expect(worstMomentOf(measurement, 'hotPixels')).to.deep.equal({ frame: 50, region: pixels[1] });
  });

  it('is the frame in which the light is farthest off', () => {
    const plain = measurementWith({ flicker: { depthPct: 5 } });
    const { flicker } = plain.readings;
    if (flicker.state !== 'measured') throw new Error('the fixture has changed');
    const lightPct = Array.from({ length: 100 }, (_, f) => (f === 63 ? -8 : Math.sin(f)));
    const measurement = {
      ...plain,
      readings: { ...plain.readings, flicker: { ...flicker, series: { lightPct } } },
    };
    expect(worstMomentOf(measurement, 'flicker')?.frame).to.equal(63);
    expect(worstMomentOf(plain, 'shake'), 'what was not measured has no worst moment').to.equal(null);
  });
});
