import { expect } from 'chai';
import { runner, settings, trialGround } from '../../../../tests/support/trial-ground.js';
import { HelpingLane, OwnLane, type Lane } from './lanes.js';

describe('threads that help with a trial', function () {
  this.timeout(60_000);
  const wanted = [1, 2].map((n) => ({ run: [{ runner, settings: settings(n) }], file: null }));
  /** What each run makes of two frames. */
  const treatedBy = async (lane: Lane) => {
    lane.share(wanted);
    const frames = await lane.treat([2, 3]);
    return frames.map(({ pictures }) => pictures.map(({ planes }) => planes[0].samples));
  };
  const alone = (seed: number) => treatedBy(new OwnLane(trialGround({ seed }), undefined));

  it('make the runs of one trial after the other as each is made alone, on its own frames', async () => {
    for (const seed of [5, 6, 7]) {
      const helper = new HelpingLane(trialGround({ seed }), undefined);
      expect(await treatedBy(helper)).to.deep.equal(await alone(seed));
      await helper.end();
    }
    expect(await alone(5)).not.to.deep.equal(await alone(6));
  });

  it('answer the next trial with what it asks for, though the one before was broken off', async () => {
    const stop = new AbortController();
    const broken = new HelpingLane(trialGround({ seed: 8 }), stop.signal);
    const unanswered = treatedBy(broken).then(
      () => 'answered',
      (error: Error) => error.message,
    );
    stop.abort(new Error('cancelled'));
    expect(await unanswered).to.equal('cancelled');
    await broken.end();
    const next = new HelpingLane(trialGround({ seed: 9 }), undefined);
    expect(await treatedBy(next)).to.deep.equal(await alone(9));
    await next.end();
  });

  it('say what went wrong, and are not asked again', async () => {
    const failing = new HelpingLane(trialGround(), undefined);
    const why = await failing.treat([2]).then(
      () => '',
      (error: Error) => error.message,
    );
    expect(why).not.to.equal('');
    await failing.end();
    const next = new HelpingLane(trialGround({ seed: 4 }), undefined);
    expect(await treatedBy(next)).to.deep.equal(await alone(4));
    await next.end();
  });
});
