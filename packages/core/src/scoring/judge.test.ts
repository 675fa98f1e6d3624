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

  it('says what else a verdict could be where the interval of its reading spans a limit', () => {
    const noiseOf = (lumaPct: number) =>
      findingsOf(measurementWith({ noise: { lumaPct } }), spec).find((f) => f.defect === 'noise');
    const near = noiseOf(2.02);
    expect(near).to.include({ verdict: 'fail', could: 'marginal' });
    expect(near?.interval?.low).to.be.below(2);
    expect(near?.because).to.contain('in nine of ten cases: it could be marginal');
    expect(noiseOf(0.99)).to.include({ verdict: 'pass', could: 'marginal' });
    const plain = noiseOf(4);
    expect(plain).to.include({ verdict: 'fail', could: null });
    expect(plain?.interval?.low).to.be.above(2);
  });

  it('is less sure of a reading that less supports', () => {
    const clean = measurementWith({ noise: { lumaPct: 1.5 } });
    const { noise } = clean.readings;
    if (noise.state !== 'measured') throw new Error('the noise was measured');
    const wide = (confidence: number): number => {
      const readings = { ...clean.readings, noise: { ...noise, confidence } };
      const found = findingsOf({ ...clean, readings }, spec).find((f) => f.defect === 'noise')?.interval;
      return found ? found.high - found.low : 0;
    };
    expect(wide(0.2)).to.be.above(1.5 * wide(0.95));
    expect(wide(0.95)).to.be.above(0);
  });

  it('never fails what a delivery leaves to a person, however large', () => {
    const step: DeliverySpec = {
      ...spec,
      limits: [
        {
          ...spec.limits[1],
          reading: 'exposureChangePct',
          pass: 12,
          fail: 60,
          passesUnseen: true,
          marginalAtMost: true,
        },
      ],
    };
    const [found] = findingsOf(measurementWith({ flicker: { exposureChangePct: 300 } }), step);
    expect(found.verdict).to.equal('marginal');
    expect(found.because).to.contain('leaves it to a person');
    const [unread] = findingsOf(measurementWith({ flicker: { exposureChangePct: null } }), step);
    expect(unread.verdict, 'of a measurement from before it was read').to.equal('pass');
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
      const series = {
        jitterX: jitter,
        jitterY: jitter,
        intendedX: jitter,
        intendedY: jitter,
        jitterTurn: [],
        jitterZoom: [],
      };
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
