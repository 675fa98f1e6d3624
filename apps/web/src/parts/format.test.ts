import { expect } from 'chai';
import type { Clip } from '@bevrin/contract';
import { measurementWith } from '../../../../tests/support/measurement.js';
import { amount, factsText, rateText, settingTexts, timeText, whenText } from './format.js';
import { badness } from './severity.js';

const { clip: facts } = measurementWith();

describe('words and figures on the pages', () => {
  it('gives figures to three digits with their unit', () => {
    expect(amount(2.3456, '%')).to.equal('2.35 %');
    expect(amount(-1.6, 'px')).to.equal('−1.6 px');
    expect(amount(0, 'places')).to.equal('0 places');
    expect(amount(1, 'places')).to.equal('1 place');
    expect(amount(null, '%')).to.equal('–');
  });

  it('counts minutes, seconds and frames from the start', () => {
    expect(timeText(0, 25)).to.equal('00:00.00');
    expect(timeText(25 * 61 + 7, 25)).to.equal('01:01.07');
    expect(timeText(24, 24000 / 1001)).to.equal('00:01.00');
  });

  it('says rate and facts as people do', () => {
    expect(rateText({ ...facts, frameRate: '30000/1001' })).to.equal('29.97 fps');
    expect(rateText({ ...facts, variableFrameRate: true })).to.equal('25 fps, variable');
    expect(factsText(facts)).to.equal('1920×1080 · 25 fps · prores 10 bit · 4.0 s');
  });

  it('lists settings in the order in which they are read, whatever order they were stored in', () => {
    const texts = settingTexts({
      grainBackPct: 0.3,
      positions: [
        [1, 2],
        [3, 4],
      ],
      framesEachSide: 3,
      motionCompensation: false,
    });
    expect(texts).to.deep.equal([
      'frames each side 3',
      'motion compensation off',
      'grain to bring back 0.3\u00a0%',
      'positions 2 listed',
    ]);
  });

  it('puts what failed to come in before what fails, and the worst single defect before many small ones', () => {
    const clip = (state: Clip['state'], ...severities: number[]): Clip =>
      ({ state, summary: { findings: severities.map((severity) => ({ severity })) } }) as unknown as Clip;
    const order = [
      clip('measured', 40, 40, 40),
      clip('failed'),
      clip('measured', 5, 90),
      clip('measured', 0),
    ].sort((a, b) => badness(b) - badness(a));
    expect(order.map((c) => c.summary?.findings.map((f) => f.severity))).to.deep.equal([
      [],
      [5, 90],
      [40, 40, 40],
      [0],
    ]);
  });
});

describe('when something was done', () => {
  it('is its day and minute', () => {
    expect(whenText('2026-03-04T05:06:07.890Z')).to.equal('2026-03-04 05:06');
  });
});
