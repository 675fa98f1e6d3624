import { expect } from 'chai';
import { chanceWithinGoal, halfInterval } from './uncertainty.js';

const figure = {
  interval: { share: 0.03, amount: 0.04 },
  accuracy: { bar: { share: 0.1 }, goal: { share: 0.05, amount: 0.01 } },
};

describe('the uncertainty of a figure', () => {
  it('puts together what stays unknown and how far the evidence scatters', () => {
    expect(halfInterval(figure, 2, 0)).to.be.closeTo(0.1, 1e-12);
    expect(halfInterval(figure, -2, 0)).to.be.closeTo(0.1, 1e-12);
    expect(halfInterval(figure, 2, 0.1)).to.be.closeTo(Math.hypot(0.1, 0.1645), 1e-12);
    expect(halfInterval({}, 2, 0.1)).to.equal(null);
  });

  it('says how likely a figure lies as near to the truth as it should', () => {
    // Where the goal is as wide as the interval, nine of ten do.
    expect(chanceWithinGoal({ ...figure, interval: { share: 0.05, amount: 0.01 } }, 2, 0)).to.be.closeTo(
      0.9,
      1e-3,
    );
    // A goal of one standard deviation: two of three.
    expect(chanceWithinGoal({ ...figure, interval: {} }, 2, 0.11)).to.be.closeTo(0.6827, 1e-3);
    const chances = [0, 0.05, 0.2, 1, 50].map((scatter) => chanceWithinGoal(figure, 2, scatter));
    for (let i = 1; i < chances.length; i++) expect(chances[i]).to.be.lessThan(chances[i - 1]);
    expect(chances[4]).to.be.within(0, 0.01);
    expect(chanceWithinGoal({ interval: figure.interval }, 2, 1), 'without a goal').to.equal(1);
  });
});
