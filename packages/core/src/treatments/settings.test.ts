import { expect } from 'chai';
import { checkedSettings, SettingUnusable, type SettingSchemas } from './settings.js';

const SCHEMAS: SettingSchemas = {
  framesEachSide: { kind: 'number', unit: 'frames', least: 0, most: 7, step: 1, otherwise: 2 },
  by: { kind: 'choice', options: ['whole frame', 'row bands'], otherwise: 'whole frame' },
  motionCompensation: { kind: 'flag', otherwise: true },
  positions: { kind: 'rows', columns: ['x', 'y'] },
};

describe('the settings of a treatment', () => {
  it('are what they are otherwise where nobody says', () => {
    expect(checkedSettings(SCHEMAS, { framesEachSide: 4 })).to.deep.equal({
      framesEachSide: 4,
      by: 'whole frame',
      motionCompensation: true,
      positions: [],
    });
  });

  for (const [given, says] of [
    [{ radius: 3 }, 'no setting radius: the settings are framesEachSide, by'],
    [{ framesEachSide: 8 }, 'framesEachSide is 8: it must lie between 0 and 7 frames'],
    [{ framesEachSide: 'three' }, 'framesEachSide is three: it must lie between'],
    [{ framesEachSide: NaN }, 'framesEachSide is NaN'],
    [{ by: 'columns' }, 'by is columns: it must be one of whole frame, row bands'],
    [{ motionCompensation: 1 }, 'motionCompensation is 1: it must be true or false'],
    [{ positions: [[3]] }, 'positions: each row must hold x, y'],
    [{ positions: 7 }, 'positions: each row must hold x, y'],
  ] as const)
    it(`are refused as ${JSON.stringify(given)}, saying why`, () => {
      expect(() => checkedSettings(SCHEMAS, given as never)).to.throw(SettingUnusable, says);
    });
});
