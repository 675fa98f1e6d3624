import { expect } from 'chai';
import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { DeliverySpec } from '#document';
import { intervalOf } from './interval.js';

const judged = readdirSync('specs').flatMap((name) =>
  DeliverySpec.parse(JSON.parse(readFileSync(join('specs', name), 'utf8'))).limits.map((l) => ({
    ...l,
    key: `${l.defect}.${l.reading}`,
  })),
);

describe('the interval of a reading', () => {
  it('is stated for each figure that a shipped delivery judges, but for counts, indices and shares of frames', () => {
    const without = new Set(
      judged.filter((l) => !intervalOf(l.defect, l.reading, 1, { confidence: 1 })).map((l) => l.key),
    );
    expect([...without].sort()).to.deep.equal([
      'banding.index',
      'hotPixels.count',
      'hotPixels.spotCount',
      'moire.index',
      'softness.softFramesPct',
    ]);
  });

  it('holds the reading, never goes below nothing, and widens as less supports it', () => {
    for (const { defect, reading } of judged)
      for (const value of [0, 0.3, 12]) {
        const [sure, unsure] = [1, 0.3].map((confidence) =>
          intervalOf(defect, reading, value, { confidence }),
        );
        if (!sure || !unsure) continue;
        expect(sure.low).to.be.within(0, value);
        expect(sure.high).to.be.at.least(value);
        expect(unsure.high - unsure.low).to.be.at.least(sure.high - sure.low);
      }
  });

  it('is as wide as the evidence of the figure scatters, whatever the confidence, but never narrower than what stays unknown', () => {
    const width = (confidence: number, scatter?: Record<string, number>): number => {
      const { low, high } = intervalOf('softness', 'blurSigmaPx', 1, { confidence, scatter })!;
      return high - low;
    };
    expect(width(0.2, { blurSigmaPx: 0 })).to.equal(width(1));
    expect(width(1, { blurSigmaPx: 0.2 })).to.be.within(2 * 1.645 * 0.2, width(1) + 2 * 1.645 * 0.2);
    expect(width(0.2, { blurSigmaPx: 0.2 })).to.equal(width(0.9, { blurSigmaPx: 0.2 }));
    expect(width(0.2, { mtf50: 0 }), 'of another figure')
      .to.equal(width(0.2))
      .and.greaterThan(width(1));
  });

  it('is nothing for a figure that nobody knows', () => {
    expect(intervalOf('noise', 'nothingLikeIt', 1, { confidence: 1 })).to.equal(null);
  });
});
