import { expect } from 'chai';
import { chmodSync, mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { copyFile } from 'node:fs/promises';
import { request as httpRequest } from 'node:http';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { pino } from 'pino';
import type { Batch, BatchDetail, Clip, ClipPlan, HouseStatus } from '@bevrin/contract';
import { readConfig, startServer } from '@bevrin/server';
import { removePostgres, startPostgres } from '../../../scripts/setup/postgres.js';
import { familyOf } from '../../../scripts/setup/processes.js';
import { clipFile, FRAMES } from '../../../tests/support/clips.js';
import { until } from '../../../tests/support/until.js';
import { startTestServer, type TestServer } from '../../../tests/support/test-server.js';
import { offsetOf, openUpload, sendPart } from '../../../scripts/setup/tus.js';

const GB = 1e9;

/** A server with a batch, in which clips of the test's own media can be registered. */
const opened = async (
  ...how: Parameters<typeof startTestServer>
): Promise<{
  server: TestServer;
  batch: Batch;
  register: (name: string, clip?: 'brief' | 'noisy') => ReturnType<TestServer['send']>;
}> => {
  const server = await startTestServer(...how);
  const made = await server.send('POST', '/batches', { name: 'Reel 3', specId: 'broadcast-hd' });
  const batch = made.body as Batch;
  return {
    server,
    batch,
    register: async (name, clip = 'brief') => {
      await copyFile(await clipFile(clip), join(server.media, name));
      return server.send('POST', `/batches/${batch.id}/clips`, { path: join(server.media, name) });
    },
  };
};

describe('a disk that fills up', function () {
  this.timeout(120_000);
  let free = 10 * GB;
  let server: TestServer;
  let batch: Batch;
  let register: Awaited<ReturnType<typeof opened>>['register'];
  before(async () => {
    ({ server, batch, register } = await opened(null, { freeBytes: () => Promise.resolve(free) }));
  });
  after(() => server.stop());
  const paused = async (): Promise<boolean> => (await server.get<HouseStatus>('/status')).storage.paused;

  it('pauses what is taken in and measured, says whose fault it is, and goes on by itself', async () => {
    expect(await paused()).to.equal(false);
    const { body } = await register('first.mp4');
    const [first] = (body as { added: Clip[] }).added;
    await server.settled(first.id);
    free = 0.2 * GB;
    await until(paused);
    const refused = await register('second.mp4');
    expect(refused.status).to.equal(507);
    expect((refused.body as { error: string }).error)
      .to.contain("The server's disk is nearly full: 200 MB are free")
      .and.to.contain('goes on by itself');
    const sent = await openUpload(server.url, batch.id, 'third.mp4', 1000);
    expect([sent.status, JSON.parse(sent.text)]).to.deep.equal([507, refused.body]);
    await server.query("UPDATE clips SET state = 'queued', measurement_id = NULL WHERE id = $1", [first.id]);
    await new Promise((done) => setTimeout(done, 3000));
    expect((await server.get<Clip>(`/clips/${first.id}`)).state, 'nothing is begun').to.equal('queued');
    free = 10 * GB;
    expect((await server.settled(first.id)).state).to.equal('measured');
    expect((await register('second.mp4')).status).to.equal(201);
  });

  it('cuts an upload off where it is, and takes it up there', async () => {
    const content = new Uint8Array(readFileSync(await clipFile('briefClean')));
    const { address } = await openUpload(server.url, batch.id, 'cut.mp4', content.length);
    const half = content.length >> 1;
    await sendPart(address, 0, content.slice(0, half));
    free = 0;
    await until(paused);
    const refused = await sendPart(address, half, content.slice(half));
    expect(refused.status).to.equal(507);
    expect(await refused.text()).to.contain('disk is nearly full');
    free = 10 * GB;
    await until(async () => !(await paused()));
    const offset = await offsetOf(address);
    expect(offset).to.be.within(half, content.length - 1);
    expect((await sendPart(address, offset, content.slice(offset))).status).to.equal(204);
  });
});

describe('a sender', function () {
  this.timeout(60_000);
  let server: TestServer;
  let batch: Batch;
  before(async () => ({ server, batch } = await opened(null, { uploadIdleMs: 600 })));
  after(() => server.stop());

  it('may take as long as it likes, and is given up only when nothing comes', async () => {
    expect(server.running.http?.requestTimeout, 'no limit on a whole request').to.equal(0);
    const { address } = await openUpload(server.url, batch.id, 'slow.mp4', 1000);
    const began = Date.now();
    const ended = new Promise<number>((done) => {
      const sending = httpRequest(address, {
        method: 'PATCH',
        headers: {
          'tus-resumable': '1.0.0',
          'upload-offset': '0',
          'content-type': 'application/offset+octet-stream',
          'content-length': 1000,
        },
      });
      sending.on('error', () => done(Date.now() - began));
      let sent = 0;
      const dripping = setInterval(() => {
        if (++sent <= 15) sending.write(Buffer.alloc(10));
        else clearInterval(dripping);
      }, 150);
    });
    const lasted = await ended;
    expect(lasted, 'longer than the idle time').to.be.greaterThan(2000);
    await until(async () => {
      const { clips } = await server.get<BatchDetail>(`/batches/${batch.id}`);
      return clips[0].state === 'interrupted';
    });
    expect(await offsetOf(address)).to.equal(150);
  });
});

describe('a measurement', function () {
  this.timeout(120_000);
  let server: TestServer;
  let register: Awaited<ReturnType<typeof opened>>['register'];
  before(async () => ({ server, register } = await opened()));
  after(() => server.stop());
  const registered = async (name: string, clip?: 'noisy'): Promise<string> =>
    ((await register(name, clip)).body as { added: Clip[] }).added[0].id;

  it('is waited for by clips whose facts and poster are there already', async () => {
    const ids = await Promise.all(['a.mp4', 'b.mp4', 'c.mp4'].map((name) => registered(name)));
    let looked: Clip | undefined;
    await until(async () => {
      const clips = await Promise.all(ids.map((id) => server.get<Clip>(`/clips/${id}`)));
      looked = clips.find((c) => c.state === 'queued' && c.facts !== null && c.poster !== null);
      return looked !== undefined || clips.every((c) => c.state === 'measured');
    });
    expect(looked?.facts).to.include({ width: 192, height: 108, file: looked?.name });
    const poster = await fetch(`${server.url}/api/pictures/${looked?.poster}`);
    expect(poster.status).to.equal(200);
    for (const id of ids) await server.settled(id);
  });

  it('that nobody keeps up any more is taken over within seconds', async () => {
    const id = await registered('left.mp4');
    await server.settled(id);
    await server.query(
      `UPDATE clips SET state = 'measuring', measurement_id = NULL, leased_by = 'a server that has gone',
       leased_until = now() + interval '2 seconds' WHERE id = $1`,
      [id],
    );
    const began = Date.now();
    expect((await server.settled(id)).state).to.equal('measured');
    expect(Date.now() - began).to.be.within(1500, 30_000);
  });

  it('that somebody keeps up is left alone', async () => {
    const id = await registered('held.mp4');
    await server.settled(id);
    await server.query(
      `UPDATE clips SET state = 'measuring', leased_by = 'another server',
       leased_until = now() + interval '1 hour' WHERE id = $1`,
      [id],
    );
    await new Promise((done) => setTimeout(done, 4000));
    expect((await server.get<Clip>(`/clips/${id}`)).state).to.equal('measuring');
    await server.query('UPDATE clips SET leased_until = now() WHERE id = $1', [id]);
    await server.settled(id);
  });

  it('is made again when its decoder is killed, and given up when that goes on', async () => {
    const id = await registered('killed.mp4', 'noisy');
    let kills = 0;
    const killing = setInterval(() => {
      for (const { pid, name, zombie } of familyOf(process.pid))
        if (name === 'ffmpeg' && !zombie && kills < 2) {
          process.kill(pid, 'SIGKILL');
          kills++;
        }
    }, 5);
    const clip = await server.settled(id);
    clearInterval(killing);
    expect(kills).to.equal(2);
    expect([clip.state, clip.measurement?.clip.frames]).to.deep.equal(['measured', FRAMES]);
    await server.query(
      "UPDATE clips SET state = 'measuring', attempts = 8, leased_until = NULL WHERE id = $1",
      [id],
    );
    const given = await server.settled(id);
    expect(given.state).to.equal('failed');
    expect(given.error).to.contain('killed.mp4: measuring it was begun 8 times and cut off each time');
  });
});

describe('a database that is killed', function () {
  this.timeout(180_000);

  it('ends neither the server nor what it does; who asks meanwhile is told what happens', async () => {
    const home = mkdtempSync(join(tmpdir(), 'bevrin-lost-'));
    chmodSync(home, 0o755);
    const folder = join(home, 'postgres');
    const postgres = await startPostgres(folder, { say: () => undefined });
    const media = join(home, 'media');
    const environment = { DATABASE_URL: postgres.url, BEVRIN_VAR: home, MEDIA_DIRS: media, PORT: '0' };
    const running = await startServer(readConfig(environment, null), pino({ level: 'silent' }));
    const faults: unknown[] = [];
    const fault = (error: unknown): void => void faults.push(error instanceof Error ? error.stack : error);
    process.on('unhandledRejection', fault);
    try {
      const ask = async (method: string, path: string, body?: unknown) => {
        const answer = await fetch(`${running.url}/api${path}`, {
          method,
          headers: { 'content-type': 'application/json' },
          body: JSON.stringify(body),
        });
        return { status: answer.status, body: (await answer.json()) as never };
      };
      const batch = (await ask('POST', '/batches', { name: 'Reel 1', specId: 'broadcast-hd' })).body as Batch;
      const content = new Uint8Array(readFileSync(await clipFile('brief')));
      const leader = (): number =>
        Number(readFileSync(join(postgres.folder, 'postmaster.pid'), 'utf8').split('\n')[0]);
      // While bytes come in, and progress of them is to be written down.
      const { address } = await openUpload(running.url, batch.id, 'sent.mp4', content.length);
      const half = content.length >> 1;
      await sendPart(address, 0, content.slice(0, half));
      process.kill(leader(), 'SIGKILL');
      const sent = await sendPart(address, half, content.slice(half)).catch(() => null);
      const lost = await ask('GET', '/batches');
      expect(lost.status).to.equal(503);
      expect((lost.body as { error: string }).error).to.contain('The database does not answer');
      await until(async () => (await ask('GET', '/batches')).status === 200);
      if (sent?.status !== 204) expect(await offsetOf(address)).to.equal(content.length);
      const clip = async (): Promise<Clip> =>
        ((await ask('GET', `/batches/${batch.id}`)).body as BatchDetail).clips[0];
      await until(async () => (await clip()).state === 'measuring' || (await clip()).state === 'measured');
      process.kill(leader(), 'SIGKILL');
      await until(async () => (await clip().catch(() => null))?.state === 'measured');
      const { id } = await clip();
      const decided = await fetch(`${running.url}/api/clips/${id}/decisions`, {
        method: 'POST',
        headers: { 'content-type': 'application/json' },
        body: JSON.stringify({ who: 'R. Hale', decision: { kind: 'approve' } }),
      });
      process.kill(leader(), 'SIGKILL');
      expect(decided.status).to.equal(201);
      let answer = await ask('GET', `/clips/${id}/plan`);
      while (answer.status !== 200) answer = await ask('GET', `/clips/${id}/plan`);
      const plan = answer.body as ClipPlan;
      expect(plan.decided.approved?.who).to.equal('R. Hale');
      expect(faults, 'errors that nobody caught').to.deep.equal([]);
    } finally {
      process.off('unhandledRejection', fault);
      await running.stop();
      await postgres.stop();
      await removePostgres(folder);
      rmSync(home, { recursive: true, force: true });
    }
  });
});

describe('a request that cannot be answered', function () {
  this.timeout(60_000);
  let server: TestServer;
  let register: Awaited<ReturnType<typeof opened>>['register'];
  before(async () => ({ server, register } = await opened()));
  after(() => server.stop());
  const raw = async (path: string, init: RequestInit = {}): Promise<{ status: number; error: string }> => {
    const answer = await fetch(`${server.url}/api${path}`, init);
    const text = await answer.text();
    return { status: answer.status, error: (JSON.parse(text) as { error: string }).error };
  };
  const json = (body: string): RequestInit => ({
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body,
  });

  it('is told what is wrong with it: JSON that is none, too much of it, an id that is none', async () => {
    expect(await raw('/batches', json('{ "name": '))).to.deep.equal({
      status: 400,
      error: 'What was sent is not JSON. Nothing was changed; send it again.',
    });
    const large = JSON.stringify({ name: 'x'.repeat(17 * 2 ** 20), specId: 'broadcast-hd' });
    expect(await raw('/batches', json(large))).to.include({ status: 413 });
    for (const path of [
      '/batches/none',
      '/clips/none',
      '/clips/none/plan',
      '/pictures/none.jpg',
      '/pictures/..%2f..%2fetc%2fpasswd',
      '/clips/none/series/shake/jitterX',
      '/clips/none/frames/1.png',
      '/batches/none/work',
      '/batches/none/out/sheet.pdf',
      '/specs/broadcast-hd/versions/none.json',
      '/specs/broadcast-hd/versions/99999999999.json',
      '/nowhere',
    ])
      expect((await raw(path)).status, path).to.equal(404);
    expect((await raw('/clips/%E0%A4%A')).status).to.equal(400);
    const zero = await raw('/batches', json('{"name":"a\\u0000b","specId":"broadcast-hd"}'));
    expect(zero.status).to.equal(400);
    expect(zero.error).to.contain('cannot be stored');
  });

  it('is told that a file has no such part', async () => {
    const { body } = await register('ranged.mp4');
    const [{ id }] = (body as { added: Clip[] }).added;
    const path = `/pictures/${(await server.settled(id)).proxy}`;
    const some = await fetch(`${server.url}/api${path}`, { headers: { range: 'bytes=0-9' } });
    expect([some.status, (await some.arrayBuffer()).byteLength]).to.deep.equal([206, 10]);
    expect(await raw(path, { headers: { range: 'bytes=99999999-' } })).to.deep.equal({
      status: 416,
      error: 'The file has no such part. Ask for one that lies inside it.',
    });
  });
});
