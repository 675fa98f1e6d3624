import { expect } from 'chai';
import { clipFile } from '../../../../tests/support/clips.js';
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
    const path = await clipFile('briefClean');
    return { kind: 'likeness', originals: [path], repaired: path };
  };
  /** Little work: there is no such file, and it says so. */
  const NONE = { kind: 'likeness', originals: ['/nowhere/a.mov'], repaired: '/nowhere/b.mov' };
  const said = (outcome: unknown): string => (outcome as { message?: string }).message ?? '';
  const cutShort = (run: Promise<unknown>): Promise<boolean> =>
    run.then(
      () => false,
      () => true,
    );

  it('end what one has in hand, and leave what another one shares them for', async () => {
    const [one, other] = [threads('sharing'), threads('sharing')];
    const first = cutShort(one.run(await work()));
    const second = other.run(NONE);
    await one.end();
    expect(await first).to.equal(true);
    expect(said(await second)).to.contain('no such file');
    expect(await cutShort(one.run(NONE)), 'once ended').to.equal(true);
    expect(said(await other.run(NONE))).to.contain('no such file');
  });

  it('stop one piece of work alone when it is told to', async () => {
    const some = threads('stopping');
    const stop = new AbortController();
    const stopped = cutShort(some.run(await work(), { signal: stop.signal }));
    stop.abort();
    expect(await stopped).to.equal(true);
    const outcome = await some.run(await work());
    expect((outcome as { likeness: number[] }).likeness[0]).to.be.a('number');
  });

  it('may be ended twice, and begin anew for whoever comes next', async () => {
    const some = threads('ending');
    await some.end();
    await some.end();
    expect(said(await threads('ending').run(NONE))).to.contain('no such file');
  });
});
