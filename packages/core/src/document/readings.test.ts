import { expect } from 'chai';
import { measurementWith } from '../../../../tests/support/measurement.js';
import { soundReading } from './readings.js';

describe('what a measure answered', () => {
  const { noise } = measurementWith().readings;

  it('stays as it is where it is sound', () => {
    expect(soundReading('noise', noise)).to.deep.equal(noise);
  });

  for (const [what, answer] of [
    ['values.lumaPct', { ...noise, values: { ...noise.values, lumaPct: NaN } }],
    ['scatter.lumaPct', { ...noise, scatter: { lumaPct: Infinity } }],
  ] as const)
    it(`could not be told where ${what} is no number, and says what is wrong and what to do`, () => {
      const { state, reason } = soundReading('noise', answer);
      expect(state).to.equal('notMeasurable');
      expect(reason).to.contain(what).and.to.contain('report it, with the clip');
    });
});
