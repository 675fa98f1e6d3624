import { expect } from 'chai';
import type { Measurement } from '#document';
import { measurementWith } from '../../../../tests/support/measurement.js';
import { conformFindings } from './conform.js';

const clip = (change: Partial<Measurement['clip']>): Measurement => {
  const clean = measurementWith();
  return { ...clean, clip: { ...clean.clip, ...change } };
};

describe('facts against the delivery', () => {
  it('asks for nothing that the spec does not ask for', () => {
    expect(conformFindings(clip({}), {})).to.deep.equal([]);
  });

  it('passes a file that is as asked for', () => {
    const findings = conformFindings(clip({}), {
      width: 1920,
      height: 1080,
      frameRates: ['25/1', '50/1'],
      scan: 'progressive',
      leastBitDepth: 10,
      range: 'limited',
      constantFrameRate: true,
    });
    expect(findings).to.have.length(6);
    expect(findings.every((f) => f.verdict === 'pass' && f.severity === 0)).to.equal(true);
  });

  const tags: [string, Partial<Measurement['clip']>, string, string][] = [
    [
      'fields in a file that says progressive',
      { scan: 'progressive', scanSeen: 'interlaced', fieldOrderSeen: 'bottom' },
      'fail',
      'it holds two fields a frame, bottom field first',
    ],
    [
      'the wrong field first',
      { scan: 'interlaced', fieldOrder: 'top', scanSeen: 'interlaced', fieldOrderSeen: 'bottom' },
      'fail',
      'movement will judder',
    ],
    [
      'whole frames in a file that says interlaced',
      { scan: 'interlaced', fieldOrder: 'top', scanSeen: 'progressive' },
      'marginal',
      'it holds whole frames',
    ],
    ['rows as the file says', { scanSeen: 'progressive' }, 'pass', 'as the file says'],
  ];
  for (const [what, change, verdict, says] of tags)
    it(`sets the tag against the picture, whatever is asked for: ${what}`, () => {
      const [finding, ...others] = conformFindings(clip(change), {});
      expect(others).to.be.empty;
      expect(finding).to.include({ reading: 'scanTag', verdict });
      expect(finding.because).to.contain(says);
    });

  it('believes the picture before the tag where a scan is asked for', () => {
    const combed = clip({ scan: 'progressive', scanSeen: 'interlaced' });
    const found = conformFindings(combed, { scan: 'progressive' }).find((f) => f.reading === 'interlaced');
    expect(found?.verdict).to.equal('fail');
  });

  it('says whether an interpolation or the edges tell how much detail there is', () => {
    const told = (scaleFrom: 'interpolation' | 'edges'): string => {
      const clean = measurementWith();
      const softness = {
        state: 'measured' as const,
        reason: null,
        confidence: 0.9,
        values: {
          blurSigmaPx: 1,
          mtf50: 0.2,
          effectiveWidth: 1280,
          effectiveScale: 0.667,
          scaleFrom,
          overshootPct: null,
          softFrames: [],
          softFramesPct: 0,
        },
        series: { detailPct: [] },
        regions: [],
      };
      const readings = { ...clean.readings, softness };
      return conformFindings({ ...clean, readings }, { leastScale: 0.9 })[0].because;
    };
    expect(told('interpolation')).to.contain('enlargement from 1280 px to 1920');
    expect(told('edges')).to.contain('at most that of a picture 1280 px wide');
  });

  const wrong: [
    string,
    Partial<Measurement['clip']>,
    Parameters<typeof conformFindings>[1],
    string,
    string,
  ][] = [
    ['a frame rate', { frameRate: '30000/1001' }, { frameRates: ['25/1'] }, 'fail', '29.97 fps'],
    ['fields', { scan: 'interlaced' }, { scan: 'progressive' }, 'fail', 'interlaced'],
    ['a size', { width: 1280, height: 720 }, { width: 1920, height: 1080 }, 'marginal', '1280×720'],
    ['8 bits', { bitDepth: 8 }, { leastBitDepth: 10 }, 'marginal', '8 bit'],
    ['uneven time', { variableFrameRate: true }, { constantFrameRate: true }, 'fail', 'uneven'],
    [
      'repeated frames',
      { duplicateFrames: 20, repeatEvery: 5 },
      { mostRepeatedPct: 2 },
      'fail',
      'one in every 5',
    ],
    ['lost frames', { lostBefore: [31, 80] }, { mostLost: 0 }, 'fail', 'frames 31, 80'],
    ['blocks', { blockiness: 1.9 }, { mostBlocky: 1.3 }, 'marginal', '8×8'],
  ];
  for (const [what, change, asked, verdict, says] of wrong)
    it(`names ${what} that is not as asked for, and what it is`, () => {
      const [finding] = conformFindings(clip(change), asked);
      expect(finding).to.include({ defect: 'conform', verdict });
      expect(finding.because).to.contain(says);
      expect(finding.severity).to.be.greaterThan(0);
    });
});
