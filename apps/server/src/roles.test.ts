import { expect } from 'chai';
import type { ChildProcess } from 'node:child_process';
import { copyFile } from 'node:fs/promises';
import { join } from 'node:path';
import { LiveEvent, type Batch, type Clip, type ClipDetail, type DeliverySpec } from '@bevrin/contract';
import { clipFile, FRAMES } from '../../../tests/support/clips.js';
import { ServerProcess } from '../../../tests/support/server-process.js';
import { inLongRuns } from '../../../tests/support/share.js';
import { until } from '../../../tests/support/until.js';

/** One process answers, others measure: they share a database and a folder, and nothing else. */
describe('api and worker as processes of their own', function () {
  this.timeout(120_000);
  let server: ServerProcess;
  let batch: Batch;
  const workers: ChildProcess[] = [];
  const heard: LiveEvent[] = [];
  const ears = new AbortController();

  before(async () => {
    server = await ServerProcess.start('.', { BEVRIN_ROLE: 'api' });
    batch = (await server.send<Batch>('POST', '/batches', { name: 'Reel', specId: 'broadcast-hd' })).body;
    void listen();
  });
  after(async () => {
    ears.abort();
    await server.remove();
  });

  const listen = async (): Promise<void> => {
    const { body } = await fetch(`${server.url}/api/events`, { signal: ears.signal });
    let text = '';
    try {
      for await (const chunk of body as unknown as AsyncIterable<Uint8Array>) {
        text += Buffer.from(chunk).toString();
        const lines = text.split('\n');
        text = lines.pop() ?? '';
        for (const line of lines)
          if (line.startsWith('data: ')) heard.push(LiveEvent.parse(JSON.parse(line.slice(6))));
      }
    } catch {
      // The test has ended.
    }
  };

  const registered = async (clip: 'brief' | 'briefClean' | 'noisy', name: string): Promise<string> => {
    const path = join(server.media, name);
    await copyFile(await clipFile(clip), path);
    const { body } = await server.send<{ added: Clip[] }>('POST', `/batches/${batch.id}/clips`, { path });
    return body.added[0].id;
  };
  const stateOf = async (id: string): Promise<string> => (await server.get<Clip>(`/clips/${id}`)).state;
  const statesHeard = (id: string): string[] =>
    heard.flatMap((e) => (e.kind === 'clip' && e.clip.id === id ? [e.clip.state] : []));

  it('leaves a clip waiting where nobody measures', async () => {
    const id = await registered('brief', 'waits.mp4');
    await new Promise((done) => setTimeout(done, 2500));
    expect(await stateOf(id)).to.equal('queued');
    workers.push(await server.startWorker());
    const clip = await server.settled(id);
    expect([clip.state, clip.judgement?.verdict]).to.deep.equal(['measured', 'fail']);
  });

  it('tells pages of the one what the other does, while it does it', async () => {
    const id = await registered('briefClean', 'told.mp4');
    await server.settled(id);
    await until(() => Promise.resolve(statesHeard(id).includes('measured')));
    expect(statesHeard(id)).to.include.members(['measuring', 'measured']);
    const last = heard.findLast((e) => e.kind === 'clip' && e.clip.id === id);
    expect(last?.kind === 'clip' && last.clip.standing?.verdict).to.equal('pass');
    expect(last?.kind === 'clip' && last.clip.proxy).to.match(/^[0-9a-f]{64}\.mp4$/);
  });

  it('judges by a spec that the other has just saved', async () => {
    const hd = (await server.get<DeliverySpec[]>('/specs')).find((s) => s.id === 'broadcast-hd')!;
    const strict = {
      ...hd,
      limits: hd.limits.map((l) => ({ ...l, pass: l.pass / 1000, fail: l.fail / 500 })),
    };
    await server.send('POST', '/specs', { spec: strict, replaces: hd.version });
    const clip = await server.settled(await registered('briefClean', 'strict.mp4'));
    expect(clip.judgement?.spec.version).to.equal(hd.version + 1);
    expect(clip.judgement?.verdict).to.equal('fail');
    await server.send('POST', '/specs', { spec: hd, replaces: hd.version + 1 });
  });

  inLongRuns('goes on with another worker when one is killed in the middle', async () => {
    const id = await registered('noisy', 'handed-on.mp4');
    await until(async () => (await stateOf(id)) === 'measuring');
    workers[0].kill('SIGKILL');
    workers.push(await server.startWorker());
    const clip = await server.settled(id);
    expect([clip.state, clip.measurement?.clip.frames]).to.deep.equal(['measured', FRAMES]);
  });

  it('measures every clip once, however many workers there are', async () => {
    workers.push(await server.startWorker());
    const ids = await Promise.all(['a', 'b', 'c', 'd'].map((n) => registered('briefClean', `${n}.mp4`)));
    for (const id of ids) await server.settled(id);
    const rows = await server.query(
      'SELECT v.clip_id, count(*)::int AS n FROM measurements m JOIN versions v ON v.id = m.version_id WHERE v.clip_id = ANY($1) GROUP BY 1',
      [ids],
    );
    expect(rows.map((r) => r.n)).to.deep.equal([1, 1, 1, 1]);
  });

  it('answers pages while no worker is there, and takes decisions', async () => {
    for (const worker of workers) worker.kill('SIGKILL');
    const [{ id }] = (await server.get<{ clips: Clip[] }>(`/batches/${batch.id}`)).clips;
    const decided = await server.send('POST', `/clips/${id}/decisions`, {
      who: 'Ines',
      decision: { kind: 'overrule', overrides: { intent: 'locked-off' } },
    });
    expect(decided.status).to.equal(201);
    expect(await stateOf(id)).to.equal('queued');
    await server.startWorker();
    await until(async () => {
      const clip = await server.get<ClipDetail>(`/clips/${id}`);
      return clip.measurement?.measuredUnder.intent === 'locked-off';
    });
  });
});
