import { expect } from 'chai';
import { columnsOf, figuresOn, shifted, showing, stretched, wholeTime } from './window.js';

describe('the ruler of time', () => {
  it('keeps the frame under the hand there while it is stretched, and stays inside the clip', () => {
    const whole = wholeTime(10_000);
    const near = stretched(whole, 0.1, 2500, 10_000);
    expect((2500 - near.from) / (near.to - near.from)).to.be.closeTo(0.25, 1e-9);
    expect(near.to - near.from).to.equal(1000);
    expect(stretched(near, 100, 2500, 10_000)).to.deep.equal(whole);
    expect(shifted(near, -1e6, 10_000)).to.deep.equal({ from: 0, to: 1000 });
    expect(shifted(near, 1e6, 10_000)).to.deep.equal({ from: 9000, to: 10_000 });
  });

  it('shows no fewer than a dozen frames, and all of a clip that has fewer', () => {
    const near = stretched(wholeTime(100), 0.001, 50, 100);
    expect(near.to - near.from).to.equal(12);
    expect(stretched(wholeTime(5), 0.1, 2, 5)).to.deep.equal({ from: 0, to: 5 });
  });

  it('follows a frame that runs out of sight', () => {
    const window = { from: 100, to: 200 };
    expect(showing(window, 150, 1000)).to.equal(window);
    const moved = showing(window, 230, 1000);
    expect(moved.from).to.be.at.most(230);
    expect(moved.to - moved.from).to.equal(100);
  });

  it('carries a dozen figures at most, at even seconds', () => {
    const figures = figuresOn({ from: 0, to: 250 }, 25);
    expect(figures).to.deep.equal([0, 25, 50, 75, 100, 125, 150, 175, 200, 225]);
    expect(figuresOn(wholeTime(90_000), 25).length).to.be.at.most(12);
  });

  it('loses no peak, however many frames share a pixel, in a moment', () => {
    const strength = Array.from({ length: 10_000 }, (_, f) => (f === 7777 ? 9 : f < 100 ? null : 1));
    const from = performance.now();
    const columns = columnsOf(strength, wholeTime(10_000), 800);
    expect(performance.now() - from).to.be.lessThan(50);
    expect(Math.max(...columns.map((v) => v ?? 0))).to.equal(9);
    expect(columns[0]).to.equal(null);
    expect(columns[Math.floor(7777 / 12.5)]).to.equal(9);
  });
});
