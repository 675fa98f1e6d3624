import { expect } from 'chai';
import type { Batch, BatchDetail, Clip, ClipDetail, LiveEvent } from '@bevrin/contract';
import type * as Client from './client.js';
import type * as Store from '../store.js';
import { until } from '../../../../tests/support/until.js';

/** One connection to the server, as a browser opens it. */
class Source {
  static open: Source[] = [];
  onopen: (() => void) | null = null;
  onerror: (() => void) | null = null;
  onmessage: ((event: { data: string }) => void) | null = null;
  constructor(readonly address: string) {
    Source.open.push(this);
  }
  tell(event: LiveEvent): void {
    this.onmessage?.({ data: JSON.stringify(event) });
  }
  close(): void {
    Source.open = Source.open.filter((s) => s !== this);
  }
}

/** A page asks where it came from. */
class PageRequest extends Request {
  constructor(input: string | URL | Request, init?: RequestInit) {
    super(typeof input === 'string' ? new URL(input, 'http://house.test') : input, init);
  }
}

interface Asked {
  readonly method: string;
  readonly path: string;
  readonly actor: string | null;
  readonly keepalive: boolean;
}

const BATCH = '00000000-0000-4000-8000-000000000001';
const OTHER = '00000000-0000-4000-8000-000000000002';
const id = (n: number): string => `00000000-0000-4000-8000-0000000001${String(n).padStart(2, '0')}`;
const clip = (n: number, more: Partial<Clip> = {}): Clip => ({
  id: id(n),
  batchId: BATCH,
  name: `A00${n}.mov`,
  state: 'queued',
  progress: 0,
  error: null,
  facts: null,
  note: '',
  specId: null,
  poster: null,
  proxy: null,
  content: null,
  summary: null,
  standing: null,
  drawn: false,
  ...more,
});

describe('what the pages ask, and what they are told meanwhile', () => {
  const asked: Asked[] = [];
  let answer: (path: string) => { status: number; body: unknown } = () => ({ status: 200, body: [] });
  const replaced = new Map<string, PropertyDescriptor | undefined>();
  const put = (name: string, value: unknown): void => {
    replaced.set(name, Object.getOwnPropertyDescriptor(globalThis, name));
    Object.defineProperty(globalThis, name, { configurable: true, writable: true, value });
  };
  let client: typeof Client;
  let store: typeof Store.store;

  before(async () => {
    put('EventSource', Source);
    put('Request', PageRequest);
    put('localStorage', { getItem: () => 'Jörg Hale', setItem: () => undefined });
    put('fetch', (request: Request) => {
      const path = new URL(request.url).pathname.replace('/api/', '');
      asked.push({
        method: request.method,
        path,
        actor: request.headers.get('x-bevrin-actor'),
        keepalive: request.keepalive,
      });
      const { status, body } = answer(path);
      return Promise.resolve(Response.json(body, { status }));
    });
    client = await import('./client.js');
    ({ store } = await import('../store.js'));
  });
  after(() => {
    for (const [name, was] of replaced)
      if (was) Object.defineProperty(globalThis, name, was);
      else Reflect.deleteProperty(globalThis, name);
  });
  beforeEach(() => void (asked.length = 0));

  const tell = (event: LiveEvent): void => Source.open.forEach((s) => s.tell(event));
  const times = (path: string): number => asked.filter((a) => a.path === path).length;
  const shownBatch = async () => {
    const detail = { id: BATCH, name: 'Reel 7', clips: [clip(1), clip(2)] } as unknown as BatchDetail;
    answer = () => ({ status: 200, body: detail });
    const shown = store.dispatch(client.api.endpoints.batch.initiate(BATCH, { forceRefetch: true }));
    await shown;
    await until(() => Source.open.length > 0);
    const clips = (): readonly Clip[] =>
      client.api.endpoints.batch.select(BATCH)(store.getState()).data!.clips;
    return { clips, leave: () => shown.unsubscribe() };
  };

  it('puts a clip that goes on, comes or goes into the batch that is shown, and asks nothing again', async () => {
    const { clips, leave } = await shownBatch();
    asked.length = 0;
    tell({ kind: 'clip', clip: clip(2, { state: 'measuring', progress: 0.4 }) });
    expect(clips().map((c) => [c.name, c.state, c.progress])).to.deep.equal([
      ['A001.mov', 'queued', 0],
      ['A002.mov', 'measuring', 0.4],
    ]);
    tell({ kind: 'clip', clip: clip(3) });
    tell({ kind: 'clip', clip: clip(4, { batchId: OTHER }) });
    expect(clips().map((c) => c.name)).to.deep.equal(['A001.mov', 'A002.mov', 'A003.mov']);
    tell({ kind: 'clipRemoved', batchId: BATCH, clipId: id(1) });
    tell({ kind: 'trial', clipId: id(2) });
    expect(clips().map((c) => c.name)).to.deep.equal(['A002.mov', 'A003.mov']);
    expect(asked).to.deep.equal([]);
    leave();
  });

  it('holds one connection, however many parts of a page listen', async () => {
    const { leave } = await shownBatch();
    const status = store.dispatch(client.api.endpoints.status.initiate());
    await status;
    expect(Source.open.map((s) => s.address)).to.deep.equal(['/api/events']);
    status.unsubscribe();
    leave();
  });

  it('shows at once how far a clip is, and fetches its readings when they are there', async () => {
    answer = () => ({ status: 200, body: { ...clip(5), measurement: null } as unknown as ClipDetail });
    const shown = store.dispatch(client.api.endpoints.clip.initiate(id(5)));
    await shown;
    const state = (): ClipDetail => client.api.endpoints.clip.select(id(5))(store.getState()).data!;
    await until(() => Source.open.length > 0);
    tell({ kind: 'clip', clip: clip(5, { state: 'measuring', progress: 0.7 }) });
    expect(state().progress).to.equal(0.7);
    tell({ kind: 'clip', clip: clip(6, { state: 'measured' }) });
    expect(times(`clips/${id(5)}`), 'another clip').to.equal(1);
    tell({ kind: 'clip', clip: clip(5, { state: 'measured', progress: 1 }) });
    await until(() => times(`clips/${id(5)}`) === 2);
    shown.unsubscribe();
  });

  it('asks for all of it again when the connection was lost: what happened meanwhile was not told', async () => {
    const { leave } = await shownBatch();
    answer = () => ({ status: 200, body: [] });
    const { recheckApi } = await import('./rechecks.js');
    const shown = [
      store.dispatch(client.api.endpoints.trials.initiate(id(1))),
      store.dispatch(recheckApi.endpoints.rechecks.initiate(id(1))),
      store.dispatch(client.api.endpoints.unclaimed.initiate()),
    ];
    await Promise.all(shown);
    const paths = [
      `batches/${BATCH}`,
      `clips/${id(1)}/trials`,
      `clips/${id(1)}/rechecks`,
      'unclaimed-uploads',
    ];
    asked.length = 0;
    const [source] = Source.open;
    source.onopen?.();
    expect(asked, 'it was there all the time').to.deep.equal([]);
    source.onerror?.();
    source.onopen?.();
    await until(() => paths.every((path) => times(path) === 1));
    shown.forEach((s) => s.unsubscribe());
    leave();
  });

  it('says who asks, whatever letters the name has, and sends what is decided even while the page is left', async () => {
    answer = () => ({ status: 200, body: {} });
    const { endpoints } = client.api;
    const decide = (reason: string): Promise<unknown> =>
      store.dispatch(
        endpoints.decide.initiate({ clipId: id(1), who: 'J', decision: { kind: 'note', reason } as never }),
      );
    await decide('short');
    await decide('x'.repeat(70_000));
    await store.dispatch(endpoints.saveNote.initiate({ clipId: id(1), note: 'b', before: 'a' }));
    expect(asked.map((a) => [a.method, a.keepalive])).to.deep.equal([
      ['POST', true],
      // More than a browser sends for a page that has gone: refused, it would be lost.
      ['POST', false],
      ['PATCH', true],
    ]);
    for (const { actor } of asked) expect(decodeURIComponent(actor!)).to.equal('Jörg Hale');
  });

  it('says what is wrong in the words of the server, and what to do where it says nothing', async () => {
    answer = () => ({ status: 409, body: { error: 'reel.mov: this is the original.' } });
    const refused = await store.dispatch(
      client.api.endpoints.createBatch.initiate({ name: 'R', specId: 'x' } as unknown as Batch as never),
    );
    expect(client.sayError(refused.error)).to.equal('reel.mov: this is the original.');
    for (const nothing of [
      undefined,
      { status: 502, data: '<html>' },
      { status: 500, data: null },
    ] as never[])
      expect(client.sayError(nothing)).to.match(/^The server does not answer\. Check that Bevrin is running/);
  });
});
