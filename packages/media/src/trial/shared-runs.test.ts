import { expect } from 'chai';
import { checkedSettings, runnerOf } from '@bevrin/core';
import { runner, settings, trialGround } from '../../../../tests/support/trial-ground.js';
import { runsAtOnce, sharedRuns } from './run.js';

describe('runs that share their work', () => {
  it('are treated together or a few at a time, and come out as each does alone', () => {
    const all = [1, 2, 3].map((n) => [{ runner, settings: settings(n) }]);
    const there = trialGround();
    const together = sharedRuns(all, there)!;
    const few = [sharedRuns(all.slice(0, 2), there)!, sharedRuns(all.slice(2), there)!];
    for (const i of [2, 3]) {
      const { pictures, seconds } = together.treat(i);
      const apart = few.flatMap((f) => f.treat(i).pictures);
      expect(pictures).to.have.length(3);
      expect(
        seconds.every((s) => s > 0),
        'each says what it takes alone',
      ).to.equal(true);
      for (const [k, [step]] of all.entries()) {
        const alone = runner.begin(there.frames.study, step.settings, null as never).treat(i);
        for (const made of [pictures[k], apart[k]])
          expect(made.planes.map((p) => p.samples)).to.deep.equal(alone.planes.map((p) => p.samples));
      }
    }
  });

  it('share nothing where they differ in more, or have steps before', () => {
    const [one, other] = [settings(1), settings(2, 9)].map((s) => ({ runner, settings: s }));
    expect(sharedRuns([[one], [other]], trialGround())).to.equal(null);
    expect(sharedRuns([[one, other]], trialGround())).to.equal(null);
    const sharpen = runnerOf('sharpen');
    const step = { runner: sharpen, settings: checkedSettings(sharpen.settings, {}) };
    expect(sharedRuns([[step], [step]], trialGround())).to.equal(null);
  });

  it('are as many at once as there is memory for, one at least', () => {
    expect(runsAtOnce(trialGround({ bytes: 3e6 }))).to.equal(57);
    expect(runsAtOnce(trialGround({ bytes: 60e6 }))).to.equal(2);
    expect(runsAtOnce(trialGround({ bytes: 900e6 }))).to.equal(1);
  });
});
