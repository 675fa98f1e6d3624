import { expect } from 'chai';
import { flashesIn, outstandingIn } from './flashes.js';

describe('flashes', () => {
  const steady = (frames = 100): number[] => new Array<number>(frames).fill(0);

  it('are what goes up and comes down again within a few frames', () => {
    const steps = steady();
    steps[40] = 0.8;
    steps[41] = -0.75;
    steps[70] = 0.5;
    steps[72] = -0.48;
    expect([...flashesIn(steps)]).to.deep.equal([40, 41, 70, 71, 72]);
  });

  it('are not a light that stays on, one that is too faint, or one that swings all the time', () => {
    const on = steady();
    on[50] = 0.6;
    expect(flashesIn(on).size).to.equal(0);
    const faint = steady();
    [faint[50], faint[51]] = [0.1, -0.1];
    expect(flashesIn(faint).size).to.equal(0);
    expect(flashesIn(Array.from({ length: 100 }, (_, t) => (t % 2 ? 0.3 : -0.3))).size).to.equal(0);
  });

  it('stand out of a curve as single frames, unless there are many of them', () => {
    const curve = Float64Array.from({ length: 100 }, (_, t) => 0.004 * Math.sin(t));
    curve[30] = 0.2;
    curve[31] = NaN;
    expect([...outstandingIn(curve)]).to.deep.equal([30]);
    for (let t = 0; t < 100; t += 9) curve[t] = 0.2;
    expect(outstandingIn(curve).size).to.equal(0);
    expect(outstandingIn(new Float64Array(5).fill(NaN)).size).to.equal(0);
  });
});
