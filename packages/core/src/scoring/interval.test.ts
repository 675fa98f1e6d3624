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
    const without = new Set(judged.filter((l) => !intervalOf(l.defect, l.reading, 1, 1)).map((l) => l.key));
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
        const [sure, unsure] = [1, 0.3].map((c) => intervalOf(defect, reading, value, c));
        if (!sure || !unsure) continue;
        expect(sure.low).to.be.within(0, value);
        expect(sure.high).to.be.at.least(value);
        expect(unsure.high - unsure.low).to.be.at.least(sure.high - sure.low);
      }
  });

  it('is nothing for a figure that nobody knows', () => {
    expect(intervalOf('noise', 'nothingLikeIt', 1, 1)).to.equal(null);
  });
});
