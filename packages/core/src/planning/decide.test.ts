import { expect } from 'chai';
import type { Decision, DecisionMade } from '#document';
import { HOUSE_SPEC as spec, measurementWith } from '../../../../tests/support/measurement.js';
import { scoreMeasurement } from '../scoring/score.js';
import { decidedPlan, stepByHand } from './decide.js';

const measurement = measurementWith({
  noise: { lumaPct: 3 },
  flicker: { depthPct: 6, frequencyHz: 4, pattern: 'whole-frame' },
});
const { plan, findings } = scoreMeasurement(measurement, spec);
const made = (decisions: readonly Decision[], undone: readonly number[] = []): DecisionMade[] =>
  decisions.map((decision, i) => ({
    id: i + 1,
    who: 'R. Hale',
    at: '2026-11-25T09:00:00.000Z',
    undone: undone.includes(i),
    decision,
  }));
const after = (...decisions: Decision[]) => decidedPlan(plan, findings, measurement, made(decisions));

describe('what a technician decides', () => {
  it('leaves the proposal as it is where nothing was decided', () => {
    const decided = after();
    expect(decided.steps.map((s) => s.treatment)).to.deep.equal(['deflicker', 'reduceNoise']);
    expect(decided).to.include({ assignee: '', approved: null, verdict: 'fail' });
    expect(decided.brokenRules).to.deep.equal([]);
  });

  it('may break the order of work, and is told which rule and why', () => {
    const { steps, brokenRules } = after({ kind: 'order', treatments: ['reduceNoise', 'deflicker'] });
    expect(steps.map((s) => [s.treatment, s.order])).to.deep.equal([
      ['reduceNoise', 1],
      ['deflicker', 2],
    ]);
    expect(brokenRules).to.have.length(1);
    expect(brokenRules[0]).to.include({ first: 'deflicker', then: 'reduceNoise' });
    expect(brokenRules[0].because).to.contain('steady light');
  });

  it('changes settings, and the expectation and the cost follow', () => {
    const [, noise] = after({
      kind: 'settings',
      treatment: 'reduceNoise',
      settings: { framesEachSide: 4, spatialStrengthPct: 0 },
    }).steps;
    expect(noise.settings.framesEachSide).to.equal(4);
    // A ninth of its power is left.
    expect(noise.expect.to).to.be.closeTo(1, 0.001);
    expect(noise.changed).to.equal(true);
    expect(noise.cost.renderWeight).to.be.closeTo(2 + 1.2 * 9, 0.01);
    const [light] = after({
      kind: 'settings',
      treatment: 'deflicker',
      settings: { framesEachSide: 1 },
    }).steps;
    // Three frames do not hold a beat of 25/4 frames: much of the swing stays.
    expect(light.expect.to).to.be.greaterThan(0.5 * 6);
  });

  it('drops a step with a reason, takes it up again, and adds one by hand', () => {
    const drop: Decision = { kind: 'drop', treatment: 'deflicker', reason: 'The director likes the lamps.' };
    expect(after(drop).steps.map((s) => s.treatment)).to.deep.equal(['reduceNoise']);
    expect(after(drop).dropped[0].reason).to.contain('director');
    expect(after(drop, { kind: 'keep', treatment: 'deflicker' }).steps).to.have.length(2);
    const passing = measurementWith({ noise: { lumaPct: 0.8 } });
    const scored = scoreMeasurement(passing, spec);
    const decided = decidedPlan(
      scored.plan,
      scored.findings,
      passing,
      made([{ kind: 'add', treatment: 'reduceNoise', reason: 'It goes beside a clean clip.' }]),
    );
    expect(decided.steps[0]).to.include({ treatment: 'reduceNoise', byHand: true, priority: 1 });
    expect(decided.steps[0].expect.to).to.be.at.most(0.4);
    expect(stepByHand('stabilise', scored.findings, passing)).to.equal(null);
  });

  it('brings grain in that a person asks for, with the settings that came with it, though no noise was taken', () => {
    const clean = measurementWith({ noise: { lumaPct: 0.3 } });
    const scored = scoreMeasurement(clean, spec);
    const [grain] = decidedPlan(
      scored.plan,
      scored.findings,
      clean,
      made([
        {
          kind: 'add',
          treatment: 'grain',
          reason: 'Match grain to the other 5 of A014.',
          settings: { sharePct: 100, lumaPct: 0.4, byLevel: [] },
        },
      ]),
    ).steps;
    expect(grain).to.include({
      treatment: 'grain',
      byHand: true,
      note: 'Match grain to the other 5 of A014.',
    });
    expect(grain.settings).to.include({ sharePct: 100, lumaPct: 0.4 });
    expect(grain.expect.to, 'powers add up').to.be.closeTo(0.5, 0.001);
    // Of itself it is little of what was measured.
    const own = stepByHand('grain', scored.findings, clean)!;
    expect(own.settings).to.include({ lumaPct: 0.3 });
    expect(own.settings.sharePct).to.be.within(5, 40);
  });

  it('waives a finding: its step goes, and the verdict is that of the rest', () => {
    const decided = after(
      { kind: 'waive', defect: 'flicker', reading: 'depthPct', reason: 'Meant to look like that.' },
      { kind: 'waive', defect: 'noise', reading: 'lumaPct', reason: 'Archive.' },
    );
    expect(decided.steps).to.deep.equal([]);
    expect(decided.verdict).to.equal('pass');
    expect(decided.waived.map((w) => w.reason)).to.deep.equal(['Meant to look like that.', 'Archive.']);
  });

  it('leaves out grain where the noise stays, unless a person asks for it', () => {
    const noisy = measurementWith({ noise: { lumaPct: 6 } });
    const scored = scoreMeasurement(noisy, spec);
    const treatments = (...decisions: Decision[]): string[] =>
      decidedPlan(scored.plan, scored.findings, noisy, made(decisions)).steps.map((s) => s.treatment);
    const drop: Decision = { kind: 'drop', treatment: 'reduceNoise', reason: 'It was meant to be grainy.' };
    expect(treatments()).to.deep.equal(['reduceNoise', 'grain']);
    expect(treatments(drop)).to.deep.equal([]);
    const add: Decision = { kind: 'add', treatment: 'sharpen', reason: 'The eyes.' };
    expect(treatments(add)).to.deep.equal(['reduceNoise', 'grain']);
  });

  it('forgets what was taken back', () => {
    const drop: Decision = { kind: 'drop', treatment: 'deflicker', reason: 'No.' };
    const { steps } = decidedPlan(plan, findings, measurement, made([drop], [0]));
    expect(steps).to.have.length(2);
  });

  it('says who approved it, until it is opened again', () => {
    expect(after({ kind: 'assign', to: 'Mara' }, { kind: 'approve' })).to.deep.include({
      assignee: 'Mara',
      approved: { who: 'R. Hale', at: '2026-11-25T09:00:00.000Z' },
    });
    expect(after({ kind: 'approve' }, { kind: 'reopen', reason: 'New limits.' }).approved).to.equal(null);
  });
});
