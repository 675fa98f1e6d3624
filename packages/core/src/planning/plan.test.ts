import { expect } from 'chai';
import fc from 'fast-check';
import type { Step } from '#document';
import { findingsOf } from '../scoring/judge.js';
import { scoreMeasurement } from '../scoring/score.js';
import { planFor } from './plan.js';
import { HOUSE_SPEC as spec, measurementWith } from '../../../../tests/support/measurement.js';
import { TREATMENTS_IN_ORDER } from './treatments.js';

const stepsFor = (change: Parameters<typeof measurementWith>[0]): Step[] =>
  scoreMeasurement(measurementWith(change), spec).plan.steps;
const planOf = (change: Parameters<typeof measurementWith>[0]) =>
  scoreMeasurement(measurementWith(change), spec).plan;
/** The plan that brings each reading just to its limit. */
const enough = (change: Parameters<typeof measurementWith>[0]): Step[] => {
  const measurement = measurementWith(change);
  return planFor(findingsOf(measurement, spec), measurement, 'enough').steps;
};
const pixels = (count: number) => ({
  count,
  pixels: Array.from({ length: count }, (_, i) => ({
    x: 10 * i,
    y: 5,
    kind: 'hot' as const,
    channel: 'red' as const,
    contrastPct: 20,
    seenPct: 100,
  })),
});

describe('the repair plan', () => {
  it('is empty for a clip that passes', () => {
    expect(stepsFor({})).to.deep.equal([]);
  });

  it('names exactly the treatments for what is wrong', () => {
    const steps = stepsFor({ noise: { lumaPct: 3 }, hotPixels: pixels(4) });
    expect(steps.map((s) => s.treatment)).to.deep.equal(['correctPixels', 'reduceNoise']);
  });

  it('averages as many frames as bring the noise to the limit', () => {
    // σ² falls with the number of frames: 3 % to 1 % takes 9 of them, and one more on each side leaves room for grain.
    const [step] = enough({ noise: { lumaPct: 3 } });
    expect(step.settings).to.include({ framesEachSide: 5, spatialStrengthPct: 0 });
    expect(step.expect).to.include({ reading: 'lumaPct', from: 3 });
    expect(step.expect.to).to.be.closeTo(3 / Math.sqrt(11), 0.001);
  });

  it('brings grain back, at the end, where next to none would be left, and stays within the limit', () => {
    const [noise, grain] = enough({ noise: { lumaPct: 6 } });
    expect(noise.expect.to).to.be.lessThan(1.2);
    expect(grain).to.include({ treatment: 'grain' });
    // A twentieth of 6 %, the most that is brought back.
    expect(grain.settings).to.include({ sharePct: 5, lumaPct: 6 });
    expect(grain.expect.from).to.equal(noise.expect.to);
    expect(grain.expect.to).to.be.closeTo(Math.hypot(noise.expect.to, 0.3), 0.001);
    expect(grain.expect.to).to.be.at.most(1);
    expect(grain.priority, 'it mends nothing').to.equal(2);
  });

  it('does not promise the limit when part of the noise stays put', () => {
    const [step] = stepsFor({ noise: { lumaPct: 4, temporalShare: 0.4 } });
    expect(step.expect.to).to.be.greaterThan(1);
    expect(step.settings.spatialStrengthPct).to.be.greaterThan(0);
    expect(step.risks.join(' ')).to.contain('soften');
  });

  it('lets one whole beat of a flicker into the window', () => {
    const [step] = stepsFor({ flicker: { depthPct: 6, frequencyHz: 4, pattern: 'whole-frame' } });
    const each = step.settings.framesEachSide as number;
    expect(2 * each + 1).to.be.at.least(25 / 4);
    expect(2 * (each - 1) + 1).to.be.lessThan(25 / 4);
  });

  it('says where it works, what to try when it fails, and how sure it is', () => {
    const [step] = stepsFor({ noise: { lumaPct: 3 } });
    expect(step.where).to.deep.equal({ startFrame: 0, endFrame: 99, regions: [] });
    expect(step.fallback.join(' ')).to.contain('plastic');
    expect(step.confidence).to.be.within(0.1, 1);
  });

  it('comes in three sizes: each costs more than the one before, and brings no less', () => {
    const { sizes } = planOf({
      noise: { lumaPct: 1.6 },
      flicker: { depthPct: 1.2, frequencyHz: 4, pattern: 'whole-frame' },
    });
    const noise = (size: keyof typeof sizes) => sizes[size].results.find((r) => r.defect === 'noise')!;
    expect(noise('enough').to).to.be.at.most(1);
    expect(noise('recommended').to).to.be.at.most(0.8);
    expect(noise('best').to).to.be.at.most(0.5);
    expect(sizes.recommended.renderWeight).to.be.greaterThan(sizes.enough.renderWeight);
    expect(sizes.best.renderWeight).to.be.greaterThan(sizes.recommended.renderWeight);
    // What passes near its limit is only treated where the best is asked for.
    expect(sizes.recommended.treatments).to.deep.equal(['reduceNoise']);
    expect(sizes.best.treatments).to.deep.equal(['deflicker', 'reduceNoise']);
    expect(noise('recommended').verdict).to.equal('pass');
  });

  it('says how its steps help or hurt each other', () => {
    const { together } = planOf({
      noise: { lumaPct: 3 },
      flicker: { depthPct: 6, frequencyHz: 4, pattern: 'whole-frame' },
    });
    expect(together).to.have.length(1);
    expect(together[0]).to.contain('Deflicker before the noise');
    expect(planOf({ noise: { lumaPct: 3 } }).together).to.deep.equal([]);
  });

  it('puts first what matters more to the delivery', () => {
    const measurement = measurementWith({
      noise: { lumaPct: 3 },
      flicker: { depthPct: 6, frequencyHz: 4, pattern: 'whole-frame' },
    });
    const first = (weight: number) => {
      const limits = spec.limits.map((l) => (l.defect === 'noise' ? { ...l, weight } : l));
      const { steps } = scoreMeasurement(measurement, { ...spec, limits }).plan;
      return steps.find((s) => s.priority === 1)!.treatment;
    };
    expect(first(1)).to.equal('deflicker');
    expect(first(9)).to.equal('reduceNoise');
  });

  it('works bar by bar against rolling bars', () => {
    const [step] = stepsFor({
      flicker: { depthPct: 6, frequencyHz: 5, pattern: 'rolling-bars', barsPerFrame: 3.4 },
    });
    expect(step.settings.by).to.equal('row bands');
    expect(step.settings.bandsOverHeight).to.be.at.least(4 * 3.4);
  });

  it('lists the positions of the faults', () => {
    const [step] = stepsFor({ hotPixels: pixels(3) });
    expect(step.settings.positions).to.deep.equal([
      [0, 5],
      [10, 5],
      [20, 5],
    ]);
  });

  it('keeps the order of work, numbers both lists without gaps, and leaves no step without setting, risk and check', () => {
    const order = TREATMENTS_IN_ORDER.map((t) => t.treatment);
    fc.assert(
      fc.property(
        fc.double({ min: 0, max: 8, noNaN: true }),
        fc.double({ min: 0, max: 30, noNaN: true }),
        fc.integer({ min: 0, max: 40 }),
        fc.double({ min: 0, max: 1, noNaN: true }),
        (lumaPct, depthPct, count, temporalShare) => {
          const steps = stepsFor({
            noise: { lumaPct, temporalShare },
            flicker: { depthPct, frequencyHz: 3.3, pattern: 'whole-frame' },
            hotPixels: pixels(count),
          });
          const at = steps.map((s) => order.indexOf(s.treatment));
          expect(at).to.deep.equal([...at].sort((a, b) => a - b));
          expect(steps.map((s) => s.order)).to.deep.equal(steps.map((_, i) => i + 1));
          expect(steps.map((s) => s.priority).sort()).to.deep.equal(steps.map((_, i) => i + 1));
          for (const step of steps) {
            expect(Object.keys(step.settings)).to.not.be.empty;
            expect(step.risks).to.not.be.empty;
            expect(step.check).to.not.be.empty;
            expect(step.fallback).to.not.be.empty;
            expect(step.because).to.not.equal('');
            // Grain is noise that is wanted back.
            if (step.treatment !== 'grain') expect(step.expect.to).to.be.lessThan(step.expect.from);
          }
        },
      ),
      { numRuns: 1000 },
    );
  });
});
