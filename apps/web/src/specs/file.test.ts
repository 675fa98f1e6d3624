import { expect } from 'chai';
import { DeliverySpec } from '@bevrin/contract';
import { specCsv } from '../../../server/src/reports/tables.js';
import { HOUSE_SPEC } from '../../../../tests/support/measurement.js';
import { specFromFile } from './file.js';

describe('a spec file', () => {
  it('as a table reads back as it was written', () => {
    const limits = HOUSE_SPEC.limits.map((l, i) => ({
      ...l,
      leastFrames: 3 * i,
      passesUnseen: i === 1,
      marginalAtMost: i === 2,
    }));
    const read = specFromFile(specCsv({ ...HOUSE_SPEC, limits }), 'Regional News.csv');
    expect(DeliverySpec.parse(read)).to.deep.include({ id: 'regional-news', name: 'Regional News', limits });
  });

  it('as JSON reads back as it was written', () => {
    expect(specFromFile(JSON.stringify(HOUSE_SPEC), 'house.json')).to.deep.equal(HOUSE_SPEC);
  });

  const wrong: [string, string, string, string][] = [
    ['no JSON', 'spec.json', '{', 'this is not JSON'],
    ['a missing column', 'spec.csv', 'defect,reading,unit,pass\nnoise,lumaPct,%,1', 'lacks the column fail'],
    [
      'limits the wrong way round',
      'spec.csv',
      'defect,reading,unit,pass,fail\nnoise,lumaPct,%,1,2\nshake,jitterPctWidth,%,3,1',
      'line 3, fail',
    ],
    ['an unknown defect', 'spec.csv', 'defect,reading,unit,pass,fail\nwobble,x,%,1,2', 'line 2, defect'],
    [
      'a cell that is no figure',
      'spec.csv',
      'defect,reading,unit,pass,fail\nnoise,lumaPct,%,one,2',
      'line 2, pass',
    ],
    ['nothing', 'spec.csv', '', 'lacks the columns'],
  ];
  for (const [what, name, text, says] of wrong)
    it(`with ${what} says which file, where, and what to do`, () => {
      const said = specFromFile(text, name);
      expect(said).to.be.a('string').that.contains(says).and.contains(name);
    });
});
