import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect } from 'chai';
import { DECIDING, MEASURES, statedIn } from './deciding.js';

describe('the thresholds that decide most', () => {
  it('are stated where the list says, as figures that can be made a fifth lower or higher', () => {
    for (const [file, name] of DECIDING) {
      const [, figure] = statedIn(readFileSync(join(MEASURES, file), 'utf8'), name);
      expect(Number(figure.replaceAll('_', '')), `${file} ${name}`).to.be.above(0);
    }
  });

  it('are said to be missing where they are derived from something else', () => {
    expect(() => statedIn('const LEAST_ODDS = 1 / BY_CHANCE;', 'LEAST_ODDS')).to.throw(
      'No threshold LEAST_ODDS',
    );
  });
});
