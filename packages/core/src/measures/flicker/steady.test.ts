import { expect } from 'chai';
import { isSteady, worstOf } from './steady.js';

const irregular = (depthPct: number, errorPct: number) => ({
  regular: false,
  depth: 0,
  rms: depthPct / 100 / Math.SQRT2,
  depthError: errorPct / 100,
});
const regular = (depthPct: number, errorPct = 0.05) => ({
  regular: true,
  depth: depthPct / 100,
  rms: depthPct / 100 / Math.SQRT2,
  depthError: errorPct / 100,
});

describe('light that is steady', () => {
  it('is what hardly swings, with a rhythm or without', () => {
    expect(isSteady(regular(0.3))).to.equal(true);
    expect(isSteady(irregular(0.3, 0.02))).to.equal(true);
    expect(isSteady(regular(0.5))).to.equal(false);
  });

  it('is what a codec does to it from frame to frame, which its own error covers; an iris that jumps is not', () => {
    for (const [depth, error] of [
      [0.42, 0.17],
      [0.47, 0.25],
      [0.52, 0.8],
    ])
      expect(isSteady(irregular(depth, error)), `${depth} ± ${error} %`).to.equal(true);
    expect(isSteady(irregular(0.9, 0.1))).to.equal(false);
    expect(isSteady(irregular(4, 0.8))).to.equal(false);
    expect(isSteady(regular(0.52, 0.8)), 'a rhythm is its own evidence').to.equal(false);
  });

  it('hides no flicker of another shot behind one whose light is only uncertain', () => {
    const [uncertain, weak, strong] = [irregular(1.2, 0.9), regular(0.8), regular(3)];
    expect(worstOf([uncertain, weak])).to.equal(weak);
    expect(worstOf([weak, strong, uncertain])).to.equal(strong);
    expect(worstOf([regular(0.1), uncertain]), 'none flickers').to.equal(uncertain);
  });
});
