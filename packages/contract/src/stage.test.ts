import { expect } from 'chai';
import { stageOf, type Along } from './stage.js';

describe('how far a clip has come', () => {
  const at = (more: Partial<Along>): string =>
    stageOf({
      measured: true,
      planned: false,
      approved: false,
      assignee: '',
      waived: false,
      returned: null,
      ...more,
    });

  it('goes from received over approved and in repair to signed off', () => {
    expect(at({ measured: false })).to.equal('received');
    expect(at({})).to.equal('measured');
    expect(at({ planned: true })).to.equal('planned');
    expect(at({ planned: true, measured: false }), 'while it is measured again').to.equal('received');
    expect(at({ planned: true, approved: true })).to.equal('approved');
    expect(at({ approved: true, assignee: 'Mara' })).to.equal('inRepair');
    expect(at({ returned: { done: false, signed: null } })).to.equal('returned');
    expect(at({ returned: { done: true, signed: null } })).to.equal('rechecked');
    expect(at({ returned: { done: true, signed: 'signedOff' } })).to.equal('signedOff');
  });

  it('says what came back before what was decided, and what was waived before what was approved', () => {
    expect(at({ approved: true, assignee: 'Mara', returned: { done: true, signed: 'sentBack' } })).to.equal(
      'sentBack',
    );
    expect(at({ approved: true, waived: true })).to.equal('waived');
    expect(at({ waived: true, returned: { done: true, signed: null } })).to.equal('rechecked');
  });

  it('is not only assigned: a repair begins when its plan is approved', () => {
    expect(at({ assignee: 'Mara' })).to.equal('measured');
  });
});
