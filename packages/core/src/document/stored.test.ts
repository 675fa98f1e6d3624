import { expect } from 'chai';
import { measurementWith } from '../../../../tests/support/measurement.js';
import { DEFECTS } from './defects.js';
import { Measurement } from './document.js';
import { storedMeasurement } from './stored.js';

const stored = (): {
  clip: object;
  measuredUnder?: object;
  readings: Record<string, Record<string, unknown>>;
} => JSON.parse(JSON.stringify(measurementWith({ noise: { lumaPct: 2 } })));

describe('a measurement that was stored', () => {
  it('reads as it was, when this version wrote it', () => {
    expect(storedMeasurement(stored())).to.deep.equal(measurementWith({ noise: { lumaPct: 2 } }));
  });

  it('gets what later versions added, where there is a plain answer', () => {
    const old = stored();
    const { uncertain: _, ...values } = old.readings.hotPixels.values as Record<string, unknown>;
    old.readings.hotPixels.values = values;
    const { measuredAs: _1, lostBefore: _2, ...clip } = old.clip as Record<string, unknown>;
    const { measuredUnder: _3, ...rest } = { ...old, clip };
    const read = storedMeasurement(rest);
    expect(read?.readings.hotPixels.values).to.have.property('uncertain').that.deep.equals([]);
    expect(read?.clip).to.include({ measuredAs: 'frames', lostBefore: null });
    expect(read?.measuredUnder).to.deep.equal({});
    expect(() => Measurement.parse(read)).not.to.throw();
  });

  it('says of a defect that was not looked for, or was written otherwise, that the clip must be measured again', () => {
    const old = stored();
    delete old.readings.moire;
    old.readings.noise.values = { sigma: 3 };
    const read = storedMeasurement(old);
    expect(Object.keys(read?.readings ?? {})).to.have.members([...DEFECTS]);
    for (const defect of ['moire', 'noise'] as const)
      expect(read?.readings[defect].reason, defect).to.match(/earlier version.*Measure the clip again/);
    expect(read?.readings.flicker.state).to.equal('measured');
  });

  it('is nothing, and never an error, where nothing of it can be read', () => {
    for (const nonsense of [null, 3, 'x', {}, { readings: [] }, { readings: { noise: null } }])
      expect(storedMeasurement(nonsense)).to.equal(null);
  });
});
