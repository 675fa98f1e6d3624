import { expect } from 'chai';
import { notMeasurable, type DeliverySpec } from '#document';
import { findingsOf, verdictOf } from './judge.js';
import { HOUSE_SPEC as spec, measurementWith } from '../../../../tests/support/measurement.js';

const verdictFor = (change: Parameters<typeof measurementWith>[0]) =>
  verdictOf(findingsOf(measurementWith(change), spec));

describe('findings and verdict', () => {
  it('passes a clean clip, at the limit too', () => {
    expect(verdictFor({})).to.equal('pass');
    expect(verdictFor({ noise: { lumaPct: 1 } })).to.equal('pass');
  });

  it('is marginal between the limits and fails beyond', () => {
    expect(verdictFor({ noise: { lumaPct: 1.01 } })).to.equal('marginal');
    expect(verdictFor({ noise: { lumaPct: 2.01 } })).to.equal('fail');
    expect(verdictFor({ noise: { lumaPct: 1.5 }, hotPixels: { count: 3 } })).to.equal('fail');
  });

  it('puts the worst finding first and says in a sentence why it got its number', () => {
    const [first, ...others] = findingsOf(
      measurementWith({ noise: { lumaPct: 1.5 }, flicker: { depthPct: 9 } }),
      spec,
    );
    expect(first).to.include({ defect: 'flicker', verdict: 'fail', value: 9, unit: '%' });
    expect(first.because).to.contain('9 %').and.to.contain('3 %');
    expect(others.every((f) => f.severity <= first.severity)).to.equal(true);
  });

  it('never lets what was not measured pass', () => {
    const clean = measurementWith();
    const blind = {
      ...clean,
      readings: { ...clean.readings, noise: notMeasurable('The picture is too small.') },
    };
    const findings = findingsOf(blind, spec);
    expect(verdictOf(findings)).to.equal('incomplete');
    const noise = findings.find((f) => f.defect === 'noise');
    expect(noise?.value).to.equal(null);
    expect(noise?.because).to.contain('The picture is too small.');
  });

  it('never lets a channel that the clip does not have pass', () => {
    const blue: DeliverySpec = { ...spec, limits: [{ ...spec.limits[0], reading: 'bluePct' }] };
    expect(verdictOf(findingsOf(measurementWith({ noise: { bluePct: null } }), blue))).to.equal('incomplete');
  });

  it('lets what is too short or too small for the delivery pass, and says so', () => {
    const shaken = (frames: number) => {
      const clean = measurementWith();
      const jitter = Array.from({ length: 100 }, (_, f) => (f < frames ? 9 : 0));
      const values = {
        jitterRmsPx: 3,
        jitterPctWidth: 0.9,
        peakPx: 9,
        jitterRmsDeg: 0,
        dominantHz: 5,
        cropPct: 3,
        movingSubjectPct: 0,
        camera: 'hand-held' as const,
        spectrum: [],
      };
      const series = { jitterX: jitter, jitterY: jitter, intendedX: jitter, intendedY: jitter };
      const shake = {
        state: 'measured' as const,
        reason: null,
        confidence: 0.9,
        values,
        series,
        regions: [],
      };
      return { ...clean, readings: { ...clean.readings, shake } };
    };
    const limit = {
      ...spec.limits[0],
      defect: 'shake' as const,
      reading: 'jitterPctWidth',
      pass: 0.2,
      fail: 0.5,
      leastFrames: 10,
    };
    const only = { ...spec, limits: [limit] };
    const [moment] = findingsOf(shaken(3), only);
    const [whole] = findingsOf(shaken(100), only);
    expect(moment.verdict).to.equal('pass');
    expect(moment.because).to.contain('counts 10 and more');
    expect(whole.verdict).to.equal('fail');
    expect(whole.severity).to.be.greaterThan(moment.severity);
    expect(whole.because).to.contain('the whole time');
  });
});
