import { expect } from 'chai';
import { settingOrder, settingWords, passedUnseen } from './names.js';

describe('the words for settings', () => {
  it('are a name with its unit, in the order in which they are read', () => {
    expect(settingWords('lumaStrengthPct')).to.deep.equal(['luma strength', '%']);
    expect(settingWords('chromaRadiusPx')).to.deep.equal(['chroma radius', 'px']);
    expect(settingOrder('framesEachSide')).to.be.lessThan(settingOrder('lumaStrengthPct'));
    expect(settingOrder('lumaStrengthPct')).to.be.lessThan(settingOrder('chromaStrengthPct'));
  });

  it('are found for a plan of an earlier version, which calls the strengths otherwise', () => {
    for (const plane of ['luma', 'chroma']) {
      expect(settingWords(`${plane}OncePct`)).to.deep.equal(settingWords(`${plane}StrengthPct`));
      expect(settingOrder(`${plane}OncePct`)).to.equal(settingOrder(`${plane}StrengthPct`));
    }
  });

  it('are the key itself where nobody knows it', () => {
    expect(settingWords('somethingElse')).to.deep.equal(['somethingElse', '']);
  });
});

describe('a finding that says nothing', () => {
  it('is one whose reading has no value; a fact of the file needs none', () => {
    expect(passedUnseen({ defect: 'hotPixels', value: null, verdict: 'pass' })).to.equal(true);
    expect(passedUnseen({ defect: 'hotPixels', value: 0, verdict: 'pass' })).to.equal(false);
    expect(passedUnseen({ defect: 'conform', value: null, verdict: 'pass' })).to.equal(false);
  });
});
