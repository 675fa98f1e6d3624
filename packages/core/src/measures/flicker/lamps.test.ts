import { expect } from 'chai';
import { beatHz, lampsFor } from './lamps.js';

describe('lamps', () => {
  it('computes the beat of mains light with the frame rate', () => {
    expect(beatHz(100, 24)).to.be.closeTo(4, 1e-9);
    expect(beatHz(100, 25)).to.be.closeTo(0, 1e-9);
    expect(beatHz(120, 25)).to.be.closeTo(5, 1e-9);
    expect(beatHz(120, 24000 / 1001)).to.be.closeTo(0.12, 0.01);
  });

  it('names the lamp that explains what is seen, and shutters that take in whole pulses', () => {
    const [lamp, ...others] = lampsFor(4.02, 24, 5);
    expect(others).to.be.empty;
    expect(lamp).to.include({ lightHz: 100, aliasHz: 4 });
    expect(lamp.steadyShuttersSec).to.deep.equal([0.04, 0.03, 0.02, 0.01]);
  });

  it('blames no lamp for another rhythm', () => {
    expect(lampsFor(2.1, 24, 5)).to.be.empty;
  });
});
