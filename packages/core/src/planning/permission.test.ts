import { expect } from 'chai';
import type { Decision } from '#document';
import { HOUSE_SPEC, measurementWith } from '../../../../tests/support/measurement.js';
import { scoreMeasurement } from '../scoring/score.js';
import { decidedPlan } from './decide.js';
import { whyRefused } from './permission.js';

describe('what an actor may decide', () => {
  const measurement = measurementWith({ noise: { lumaPct: 3 } });
  const { plan, findings } = scoreMeasurement(measurement, HOUSE_SPEC);
  const clip = (approvedBy?: string) => {
    const decided = decidedPlan(plan, findings, measurement, []);
    const approved = approvedBy ? { who: approvedBy, at: '2026-01-01T00:00:00.000Z' } : null;
    return { measurement, findings, plan: { ...decided, approved } };
  };
  const ines = { name: 'Ines' };
  const note: Decision = { kind: 'frameNote', frame: 3, text: 'Lamp.' };
  const approve: Decision = { kind: 'approve' };

  it('is nothing while nobody stands behind it', () => {
    expect(whyRefused({ name: '  ' }, approve, clip())?.kind).to.equal('nobody');
    expect(whyRefused(ines, approve, clip())).to.equal(null);
  });

  it('is only a note, or to open it again, once a plan was approved', () => {
    const refused = whyRefused(ines, { kind: 'assign', to: 'Theo' }, clip('Marit'));
    expect(refused?.kind).to.equal('frozen');
    expect(refused?.because).to.contain('Marit approved this plan').and.to.contain('Open it again');
    expect(whyRefused(ines, approve, clip('Marit'))?.kind).to.equal('frozen');
    expect(whyRefused(ines, note, clip('Marit'))).to.equal(null);
    expect(whyRefused(ines, { kind: 'reopen', reason: 'New limits.' }, clip('Marit'))).to.equal(null);
  });

  it('must mean something on the clip', () => {
    for (const [decision, because] of [
      [{ kind: 'add', treatment: 'stabilise', reason: 'It sways.' }, 'nothing for this treatment to do'],
      [{ ...note, frame: 100 }, 'there is no frame 100'],
      [{ kind: 'overrule', overrides: { interest: { x: 0, y: 0, width: 1, height: 1 } } }, 'Draw it larger'],
    ] as const) {
      const refused = whyRefused(ines, decision as Decision, clip());
      expect(refused?.kind, because).to.equal('meaningless');
      expect(refused?.because).to.contain(because);
    }
    expect(whyRefused(ines, { kind: 'add', treatment: 'reduceNoise', reason: 'Now.' }, clip())).to.equal(
      null,
    );
  });
});
