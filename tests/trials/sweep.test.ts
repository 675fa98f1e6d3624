import { expect } from 'chai';
import { Sweep, sweptSettings } from '@bevrin/contract';
import { RUNNERS, sweepOf } from '@bevrin/core';

describe('settings that a trial compares', () => {
  it('are each with each where two are swept, the second within the first', () => {
    const swept = sweptSettings(
      { framesEachSide: 2, grain: 1 },
      { key: 'framesEachSide', values: [1, 2], and: { key: 'spatialStrengthPct', values: [0, 50] } },
    );
    expect(swept.map((s) => [s.framesEachSide, s.spatialStrengthPct, s.grain])).to.deep.equal([
      [1, 0, 1],
      [1, 50, 1],
      [2, 0, 1],
      [2, 50, 1],
    ]);
  });

  it('are two different ones, and no more together than anybody looks at', () => {
    const nine = Array.from({ length: 9 }, (_, i) => i);
    const three = [1, 2, 3];
    const read = (values: number[], and?: { key: string; values: number[] }) =>
      Sweep.safeParse({ key: 'radiusPx', values, ...(and && { and }) });
    expect(read(nine, { key: 'strengthPct', values: three }).success).to.equal(true);
    expect(read(nine, { key: 'strengthPct', values: [...three, 4] }).error?.issues[0].message).to.contain(
      'leave some values out',
    );
    expect(read(three, { key: 'radiusPx', values: three }).error?.issues[0].message).to.contain('different');
    expect(read([]).success).to.equal(false);
  });

  it('are the ones that each treatment names, inside of what it allows', () => {
    for (const runner of Object.values(RUNNERS)) {
      const { treatment, settings, swept } = runner;
      const schema = settings[swept];
      if (schema.kind !== 'number') throw new Error(`${treatment}: ${swept} is no figure`);
      for (const value of [schema.least, schema.otherwise, schema.most]) {
        const values = sweepOf(runner, { [swept]: value }, null).map((s) => Number(s[swept]));
        expect(values, treatment).to.not.be.empty;
        expect(new Set(values).size, `${treatment} about ${value}: none twice`).to.equal(values.length);
        for (const each of values)
          expect(each, `${treatment} ${swept} about ${value}`).to.be.within(schema.least, schema.most);
      }
    }
  });
});
