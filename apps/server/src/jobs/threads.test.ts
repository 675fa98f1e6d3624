import { expect } from 'chai';
import { clipFile } from '../../../../tests/support/clips.js';
import type { RecheckOutcome } from './recheck-task.js';
import { threadsFor, type Threads } from './threads.js';

describe('threads of the house', function () {
  this.timeout(60_000);
  const begun: Threads[] = [];
  const threads = (use: string): Threads => {
    const some = threadsFor('recheck-thread', use);
    begun.push(some);
    return some;
  };
  afterEach(() => Promise.all(begun.splice(0).map((t) => t.end())));

  /** Whether a clip looks like itself: some work for a thread. */
  const work = async (): Promise<object> => {
    const path = await clipFile('clean');
    return { kind: 'likeness', originals: [path], repaired: path };
  };
  const alike = (outcome: unknown): readonly (number | null)[] =>
    'likeness' in (outcome as RecheckOutcome) ? (outcome as { likeness: (number | null)[] }).likeness : [];
  const cutShort = (run: Promise<unknown>): Promise<boolean> =>
    run.then(
      () => false,
      () => true,
    );

  it('end what one has in hand, and leave what another one shares them for', async () => {
    const [one, other] = [threads('sharing'), threads('sharing')];
    const task = await work();
    const [first, second] = [cutShort(one.run(task)), other.run(task)];
    await one.end();
    expect(await first).to.equal(true);
    expect(alike(await second)).to.have.length(1);
    expect(await cutShort(one.run(task)), 'once ended').to.equal(true);
    expect(alike(await other.run(task))[0]).to.be.a('number');
  });

  it('stop one piece of work alone when it is told to', async () => {
    const some = threads('stopping');
    const task = await work();
    const stop = new AbortController();
    const stopped = cutShort(some.run(task, { signal: stop.signal }));
    stop.abort();
    expect(await stopped).to.equal(true);
    expect(alike(await some.run(task))).to.have.length(1);
  });

  it('may be ended twice, and begin anew for whoever comes next', async () => {
    const some = threads('ending');
    await some.end();
    await some.end();
    expect(alike(await threads('ending').run(await work()))).to.have.length(1);
  });
});
