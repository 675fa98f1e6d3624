import { expect } from 'chai';
import { DeliverySpec, TREATMENTS, type Measurement, type Readings } from '#document';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { scoreMeasurement } from '../scoring/score.js';
import { measurementWith } from '../../../../tests/support/measurement.js';

const spec = DeliverySpec.parse(JSON.parse(readFileSync(join('specs', 'broadcast-hd.json'), 'utf8')));
const measured = <V, S>(values: V, series: S) => ({
  state: 'measured' as const,
  reason: null,
  confidence: 0.9,
  values,
  series,
  regions: [],
});
const clean = {
  shake: measured(
    {
      jitterRmsPx: 0.5,
      jitterPctWidth: 0.03,
      peakPx: 1,
      jitterRmsDeg: 0.01,
      dominantHz: 3,
      cropPct: 0.4,
      movingSubjectPct: 2,
      camera: 'hand-held' as const,
      spectrum: [],
    },
    { jitterX: [], jitterY: [], intendedX: [], intendedY: [], jitterTurn: [], jitterZoom: [] },
  ),
  rollingShutter: measured(
    { readoutFraction: 0.2, readoutMs: 8, skewDeg: 0.1, wobblePx: 0.2, wobblePctWidth: null, candidates: [] },
    { leanPx: [] },
  ),
  banding: measured(
    { areaPct: 0, stepPct: 0, index: 0, effectiveBits: 10, histogram: { firstCode: 64, counts: [] } },
    {},
  ),
  moire: measured({ index: 0, areaPct: 0, patternCount: 0, patterns: [] }, {}),
  softness: measured(
    {
      blurSigmaPx: 0.6,
      mtf50: 0.3,
      effectiveWidth: 1920,
      effectiveScale: 1,
      scaleFrom: 'edges' as const,
      overshootPct: null,
      softFrames: [],
      softFramesPct: 0,
    },
    { detailPct: [] },
  ),
};
const wholePlan = (change: Partial<Readings>, clip: Partial<Measurement['clip']> = {}, under = spec) => {
  const base = measurementWith();
  return scoreMeasurement(
    { ...base, clip: { ...base.clip, ...clip }, readings: { ...base.readings, ...clean, ...change } },
    under,
  ).plan;
};
const planOf = (...of: Parameters<typeof wholePlan>) => wholePlan(...of).steps;
const shaken = measured(
  { ...clean.shake.values, jitterPctWidth: 0.6, jitterRmsDeg: 0.2, cropPct: 5, movingSubjectPct: 25 },
  clean.shake.series,
);
const pattern = {
  x: 10,
  y: 20,
  width: 128,
  height: 64,
  startFrame: 0,
  endFrame: 99,
  strength: 4,
  periodPx: 12,
  kind: 'colour' as const,
  crawlPxPerFrame: 5,
};

describe('treatments', () => {
  it('leave a clean clip alone', () => {
    expect(planOf({})).to.deep.equal([]);
  });

  it('read the rows as the picture shows them, where the tag says otherwise', () => {
    const combed = { scan: 'progressive', scanSeen: 'interlaced', fieldOrderSeen: 'top' } as const;
    const [step] = planOf({}, combed);
    expect(step.treatment).to.equal('conform');
    expect(step.settings).to.include({ readAs: 'interlaced', firstField: 'top' });
    const [whole] = planOf({}, { scan: 'interlaced', scanSeen: 'progressive' });
    expect(whole.settings).to.deep.include({ readAs: 'progressive' });
    expect(whole.settings).to.not.have.property('firstField');
  });

  it('take no step of the exposure for a swing', () => {
    const stepped = measurementWith({ flicker: { exposureChangePct: 35, exposureChanges: [] } });
    const broadcast = DeliverySpec.parse(
      JSON.parse(readFileSync(join('specs', 'broadcast-hd.json'), 'utf8')),
    );
    const { plan, findings } = scoreMeasurement(stepped, { ...broadcast, requires: {} });
    expect(findings.find((f) => f.reading === 'exposureChangePct')?.verdict).to.equal('marginal');
    expect(plan.steps.map((s) => s.treatment)).to.not.include('deflicker');
  });

  it('steady shake with no more strength and crop than the limit asks for, and mask what goes its own way', () => {
    const [step, ...others] = planOf({ shake: shaken });
    expect(others).to.be.empty;
    expect(step.treatment).to.equal('stabilise');
    // 0.6 % to 0.12 %, a fifth below the limit, is four fifths, and a stabiliser does not take all that it is told to.
    expect(step.settings.strengthPct).to.be.within(85, 96);
    expect(step.cost.cropPct, 'no more picture than that share of what full strength costs').to.be.closeTo(
      (5 * Number(step.settings.strengthPct)) / 100,
      0.06,
    );
    expect(step.settings.motionModel).to.contain('rotation');
    expect(step.risks.join(' ')).to.contain('mask');
    expect(step.expect.to).to.be.closeTo(0.12, 0.01);
    expect(step.fallback.join(' ')).to.contain('simpler motion model');
  });

  it('plan noise for the channel that the delivery judges, and promise what their own settings give', () => {
    const keying = DeliverySpec.parse(JSON.parse(readFileSync(join('specs', 'keying-plate.json'), 'utf8')));
    const noisy = measurementWith({ noise: { lumaPct: 0.4, bluePct: 2.4, temporalShare: 1 } });
    const { plan, findings } = scoreMeasurement(noisy, { ...keying, requires: {} });
    const step = plan.steps.find((s) => s.treatment === 'reduceNoise')!;
    const blue = findings.find((f) => f.reading === 'bluePct')!;
    expect(step.expect).to.include({ reading: 'bluePct', from: 2.4 });
    expect(step.because).to.contain('2.4 %');
    expect(step.settings.worstChannel).to.equal('blue');
    // N frames leave 1/√N of it.
    const frames = 2 * Number(step.settings.framesEachSide) + 1;
    const averaged = (2.4 / Math.sqrt(frames)) * (1 - Number(step.settings.spatialStrengthPct) / 100);
    expect(step.expect.to).to.be.closeTo(averaged, 0.01);
    // A key is cleaner without grain.
    expect(plan.steps.map((s) => s.treatment)).to.not.include('grain');
    expect(step.expect.to, 'the limit is met').to.be.at.most(blue.pass);
    const asked = Number(/an average of (\d+) frames/.exec(step.because)?.[1] ?? frames);
    expect(asked, 'as many frames as it says').to.equal(frames);
  });

  it('say what noise comes to where no gentle setting brings it to the limit', () => {
    const heavy = measurementWith({ noise: { lumaPct: 9, temporalShare: 0.5 } }).readings.noise;
    const [step] = planOf({ noise: heavy });
    expect(step.because).to.contain('part of the noise stays in place').and.to.contain('not to the limit');
    expect(step.expect.to).to.be.greaterThan(1);
    expect(step.because).to.contain(`It comes to ${Math.round(100 * step.expect.to) / 100} %`);
  });

  it('say which field comes first, as the stream states it', () => {
    const fields = { scan: 'interlaced' as const, fieldOrder: 'bottom' as const };
    const progressive = { ...spec, requires: { scan: 'progressive' as const } };
    const [step] = wholePlan({}, fields, progressive).steps;
    expect(step.settings).to.include({ deinterlace: true, firstField: 'bottom' });
    const [unknown] = wholePlan({}, { ...fields, fieldOrder: null }, progressive).steps;
    expect(unknown.settings.firstField).to.contain('not stated');
  });

  it('give up, with the figure, what would cost more picture than it can lose', () => {
    const wild = measured({ ...shaken.values, jitterPctWidth: 3, cropPct: 31 }, clean.shake.series);
    const { steps, notRepairable } = wholePlan({ shake: wild });
    expect(steps).to.deep.equal([]);
    expect(notRepairable[0]).to.include({ defect: 'shake', instead: 'replace' });
    expect(notRepairable[0].because).to.contain('31 %');
  });

  it('expect noise to come back with sharpening, and blur to grow with a crop', () => {
    const soft = measured({ ...clean.softness.values, blurSigmaPx: 1.6 }, clean.softness.series);
    const noisy = measurementWith({ noise: { lumaPct: 2.2 } }).readings.noise;
    const { sizes, together, steps } = wholePlan({ softness: soft, noise: noisy, shake: shaken });
    const result = (defect: string) => sizes.recommended.results.find((r) => r.defect === defect)!;
    const own = (defect: string) => steps.find((s) => s.defect === defect)!.expect.to;
    expect(result('noise').to).to.be.greaterThan(own('noise'));
    expect(result('softness').to).to.be.greaterThan(own('softness'));
    expect(sizes.recommended.cropPct).to.be.closeTo(own('shake') > 0 ? 4.5 : 0, 0.2);
    expect(together.join(' ')).to.contain('Sharpening brings back');
  });

  it('straighten the rows before they steady, by the time of a row', () => {
    const rolling = measured(
      { ...clean.rollingShutter.values, readoutFraction: 0.7, readoutMs: 28, skewDeg: 4 },
      clean.rollingShutter.series,
    );
    const steps = planOf({ shake: shaken, rollingShutter: rolling });
    expect(steps.map((s) => s.treatment)).to.deep.equal(['straightenRows', 'stabilise']);
    expect(steps[0].settings.rowTimeUs).to.be.closeTo(28_000 / 1080, 0.05);
  });

  it('rebuild only frames that have sharp neighbours', () => {
    const run = { startFrame: 20, endFrame: 21, cause: 'shake' as const, recoverable: true };
    const soft = (runs: (typeof run)[]) =>
      measured({ ...clean.softness.values, softFrames: runs, softFramesPct: 14 }, clean.softness.series);
    const [step] = planOf({
      softness: soft([run, { ...run, startFrame: 40, endFrame: 51, recoverable: false }]),
    });
    expect(step.treatment).to.equal('rebuildFrames');
    expect(step.settings.frames).to.deep.equal([[20, 21]]);
    expect(step.risks.join(' ')).to.contain('cannot be rebuilt');
    const lost = wholePlan({ softness: soft([{ ...run, recoverable: false }]) });
    expect(lost.steps).to.deep.equal([]);
    expect(lost.notRepairable).to.have.length(1);
    expect(lost.notRepairable[0]).to.include({ defect: 'softness', instead: 'shoot again' });
  });

  it('treat moiré in its regions, chroma first', () => {
    const [step] = planOf({
      moire: measured({ index: 60, areaPct: 4, patternCount: 1, patterns: [pattern] }, {}),
    });
    expect(step.treatment).to.equal('reduceMoire');
    expect(step.settings.regions).to.deep.equal([[10, 20, 128, 64]]);
    expect(step.settings.first).to.equal('chroma');
  });

  it('deband above the step and dither below it', () => {
    const [step] = planOf({
      banding: measured({ ...clean.banding.values, areaPct: 30, stepPct: 1.6, index: 70 }, {}),
    });
    expect(step.treatment).to.equal('deband');
    expect(step.settings.thresholdPct).to.be.greaterThan(1.6);
    expect(step.settings.ditherPct).to.be.lessThan(1.6);
  });

  it('sharpen last, and warn of the noise that rises with it', () => {
    const soft = measured({ ...clean.softness.values, blurSigmaPx: 2.4 }, clean.softness.series);
    const noisy = measurementWith({ noise: { lumaPct: 3 } }).readings.noise;
    const steps = planOf({ softness: soft, noise: noisy, shake: shaken });
    expect(steps.map((s) => s.treatment)).to.deep.equal(['reduceNoise', 'stabilise', 'sharpen']);
    expect(steps[2].risks.join(' ')).to.contain('noise');
  });

  it('conform first of all', () => {
    const steps = planOf({ shake: shaken }, { variableFrameRate: true });
    expect(steps.map((s) => s.treatment)).to.deep.equal(['conform', 'stabilise']);
  });

  it('correct spots and specks where they were found', () => {
    const { hotPixels } = measurementWith({
      hotPixels: {
        spots: [{ x: 300, y: 200, radiusPx: 12, contrastPct: -9, worstFrame: 33 }],
        spotCount: 1,
        specks: {
          perFrame: 2,
          medianAreaPx: 40,
          largestPct: 0.1,
          frames: [{ frame: 7, specks: [{ x: 5, y: 6, areaPx: 40, contrastPct: 20 }] }],
        },
        specksPerFrame: 2,
      },
    }).readings;
    const steps = planOf({ hotPixels });
    expect(steps.map((s) => s.treatment)).to.deep.equal(['correctSpots', 'removeSpecks']);
    expect(steps[0].settings.positions).to.deep.equal([[300, 200, 12]]);
    expect(steps[0].check.join(' ')).to.contain('33');
  });

  it('stand in the order of work', () => {
    expect(TREATMENTS.indexOf('deflicker')).to.be.lessThan(TREATMENTS.indexOf('reduceNoise'));
    expect(TREATMENTS.indexOf('correctPixels')).to.be.lessThan(TREATMENTS.indexOf('stabilise'));
    expect(TREATMENTS.indexOf('straightenRows')).to.be.lessThan(TREATMENTS.indexOf('stabilise'));
    expect(TREATMENTS.slice(-3)).to.deep.equal(['scale', 'sharpen', 'grain']);
  });
});
