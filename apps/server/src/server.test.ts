import { expect } from 'chai';
import { createHash } from 'node:crypto';
import { copyFile, mkdir, readFile, writeFile } from 'node:fs/promises';
import { request as httpRequest } from 'node:http';
import { join } from 'node:path';
import { PNG } from 'pngjs';
import {
  MeasureDocument,
  type Batch,
  type BatchDetail,
  type Clip,
  type DeliverySpec,
} from '@bevrin/contract';
import { clipFile, FRAMES, HEIGHT, WIDTH } from '../../../tests/support/clips.js';
import { inLongRuns } from '../../../tests/support/share.js';
import { offsetOf, openUpload as openTus, sendPart } from '../../../scripts/setup/tus.js';
import { until } from '../../../tests/support/until.js';
import { startTestServer, type TestServer } from '../../../tests/support/test-server.js';

const TUS = { 'tus-resumable': '1.0.0' };

describe('the server', function () {
  this.timeout(180_000);
  let server: TestServer;
  let batch: Batch;

  before(async () => {
    server = await startTestServer();
    batch = (
      await server.send('POST', '/batches', {
        name: 'Reel 4',
        production: 'The Tidewater Line',
        specId: 'broadcast-hd',
      })
    ).body as Batch;
  });
  after(() => server.stop());

  const placed = async (clip: Parameters<typeof clipFile>[0], name: string): Promise<string> => {
    const path = join(server.media, name);
    await copyFile(await clipFile(clip), path);
    return path;
  };
  const register = async (path: string): Promise<Clip[]> => {
    const { status, body } = await server.send('POST', `/batches/${batch.id}/clips`, { path });
    expect(status, JSON.stringify(body)).to.equal(201);
    return (body as { added: Clip[] }).added;
  };
  const refusalOf = async (path: string): Promise<{ status: number; error: string }> => {
    const { status, body } = await server.send('POST', `/batches/${batch.id}/clips`, { path });
    return { status, error: (body as { error: string }).error };
  };

  const openUpload = (name: string, size: number) => openTus(server.url, batch.id, name, size);
  const clipNamed = async (name: string): Promise<Clip | undefined> =>
    (await server.get<BatchDetail>(`/batches/${batch.id}`)).clips.find((c) => c.name === name);

  it('measures a registered clip and judges it under the spec of its batch', async () => {
    const [{ id }] = await register(await placed('noisy', 'noisy.mp4'));
    const clip = await server.settled(id);
    expect(clip.state).to.equal('measured');
    expect(clip.judgement?.verdict).to.equal('fail');
    expect(clip.judgement?.findings[0]).to.include({ defect: 'noise', verdict: 'fail' });
    expect(clip.judgement?.plan.steps.map((s) => s.treatment)).to.include('reduceNoise');
    const document = MeasureDocument.parse(await server.get(`/clips/${id}/document.json`));
    expect(document.clip.file).to.equal('noisy.mp4');
    expect(document.spec).to.include({ id: 'broadcast-hd', version: 3 });
  });

  it('gives exact frames, a poster and a proxy', async () => {
    const clip = await clipNamed('noisy.mp4');
    const still = PNG.sync.read(
      Buffer.from(await (await fetch(`${server.url}/api/clips/${clip?.id}/frames/7.png`)).arrayBuffer()),
    );
    expect([still.width, still.height]).to.deep.equal([WIDTH, HEIGHT]);
    for (const [file, type] of [
      [clip?.poster, 'image/jpeg'],
      [clip?.proxy, 'video/mp4'],
    ]) {
      const answer = await fetch(`${server.url}/api/pictures/${file}`);
      expect([answer.status, answer.headers.get('content-type')]).to.deep.equal([200, type]);
      expect(answer.headers.get('cache-control')).to.contain('immutable');
      const hash = createHash('sha256').update(Buffer.from(await answer.arrayBuffer()));
      expect(file, 'named by its content').to.match(new RegExp(`^${hash.digest('hex')}\\.`));
    }
    const beyond = await server.send('GET', `/clips/${clip?.id}/frames/4000.png`);
    expect(beyond.status).to.equal(422);
    expect((beyond.body as { error: string }).error).to.contain(`the last one is ${FRAMES - 1}`);
  });

  it('judges anew from stored readings when the spec of the batch changes', async () => {
    const before = await clipNamed('noisy.mp4');
    const { body } = await server.send('PATCH', `/batches/${batch.id}`, { specId: 'archive-access' });
    const after = (body as BatchDetail).clips.find((c) => c.id === before?.id);
    expect(after?.summary?.spec.id).to.equal('archive-access');
    expect(after?.standing?.verdict).to.not.equal('fail');
    await server.send('PATCH', `/batches/${batch.id}`, { specId: 'broadcast-hd' });
    expect((await clipNamed('noisy.mp4'))?.standing?.verdict).to.equal('fail');
    expect((await server.send('PATCH', `/batches/${batch.id}`, { specId: 'nope' })).status).to.equal(422);
    expect((await server.get<DeliverySpec[]>('/specs')).map((s) => s.id)).to.include('keying-plate');
  });

  it('keeps what the technician wrote', async () => {
    const clip = await clipNamed('noisy.mp4');
    await server.send('PATCH', `/clips/${clip?.id}`, { note: 'Night shoot, lamps meant to be dim.' });
    await server.restart();
    expect((await clipNamed('noisy.mp4'))?.note).to.equal('Night shoot, lamps meant to be dim.');
  });

  it('does not write a note over one that came meanwhile', async () => {
    const clip = await clipNamed('noisy.mp4');
    const write = (note: string, noteBefore: string) =>
      server.send('PATCH', `/clips/${clip?.id}`, { note, noteBefore });
    const before = clip?.note ?? '';
    expect((await write('Mine.', before)).status).to.equal(200);
    const late = await write('Written on the old one.', before);
    expect(late.status).to.equal(409);
    expect((late.body as { error: string }).error).to.contain('noisy.mp4: its note was changed meanwhile');
    expect((await clipNamed('noisy.mp4'))?.note).to.equal('Mine.');
    expect((await write('Mine.', before)).status, 'the same once more is no conflict').to.equal(200);
  });

  it('registers a folder of clips, and each only once', async () => {
    const folder = join(server.media, 'day 2');
    await mkdir(folder);
    for (const name of ['b.mp4', 'a.mp4']) await copyFile(await clipFile('clean'), join(folder, name));
    expect((await register(folder)).map((c) => c.name)).to.deep.equal(['a.mp4', 'b.mp4']);
    expect(await refusalOf(folder)).to.include({ status: 409 });
  });

  it('refuses paths outside the media folders, missing ones and empty folders, and says what to do', async () => {
    expect((await refusalOf('/etc/passwd')).error)
      .to.contain('outside the media folders')
      .and.to.contain('MEDIA_DIRS');
    expect((await refusalOf(join(server.media, '..', '..', 'etc'))).status).to.equal(403);
    expect(await refusalOf(join(server.media, 'gone.mov'))).to.include({ status: 404 });
    await mkdir(join(server.media, 'nothing'));
    expect((await refusalOf(join(server.media, 'nothing'))).error).to.contain(
      'neither media files nor numbered stills',
    );
    expect((await server.send('POST', '/batches', { name: '', specId: 'broadcast-hd' })).status).to.equal(
      400,
    );
  });

  it('says what is wrong with a bad file, and goes on with the rest of the batch', async () => {
    const bad = join(server.media, 'letter.mov');
    await writeFile(bad, 'Dear all, please find the rushes enclosed. '.repeat(20));
    const [{ id: badId }] = await register(bad);
    const [{ id: goodId }] = await register(await placed('clean', 'it\'s "clean"\nGröße 検査.mp4'));
    const failed = await server.settled(badId);
    expect(failed.state).to.equal('failed');
    expect(failed.error).to.match(/^letter\.mov: this is not a media file.*Check that/);
    expect((await server.settled(goodId)).state).to.equal('measured');
    expect((await server.send('DELETE', `/clips/${badId}`)).status).to.equal(204);
    expect((await server.send('GET', `/clips/${badId}`)).status).to.equal(404);
  });

  it('takes an upload in parts, to the last byte', async () => {
    const content = new Uint8Array(await readFile(await clipFile('flickering')));
    const { address } = await openUpload('sent.mp4', content.length);
    const half = content.length >> 1;
    expect((await sendPart(address, 0, content.slice(0, half))).status).to.equal(204);
    expect(await offsetOf(address)).to.equal(half);
    expect((await sendPart(address, half, content.slice(half))).status).to.equal(204);
    const clip = await server.settled((await clipNamed('sent.mp4'))?.id ?? '');
    expect(clip.judgement?.findings.find((f) => f.defect === 'flicker')?.verdict).to.equal('fail');
  });

  it('says that an upload was cut off half way, and goes on with it after a restart', async () => {
    const content = new Uint8Array(await readFile(await clipFile('clean')));
    const { address } = await openUpload('cut.mp4', content.length);
    const half = content.length >> 1;
    await new Promise<void>((done) => {
      const sending = httpRequest(address, {
        method: 'PATCH',
        headers: {
          ...TUS,
          'upload-offset': '0',
          'content-type': 'application/offset+octet-stream',
          'content-length': content.length,
        },
      });
      sending.on('error', () => done());
      sending.write(content.subarray(0, half), () => setTimeout(() => sending.destroy(), 300));
    });
    await until(async () => (await clipNamed('cut.mp4'))?.state === 'interrupted');
    expect((await clipNamed('cut.mp4'))?.error).to.match(
      /cut\.mp4: the upload was cut off.*Drop the same file again/,
    );
    await server.restart();
    const moved = address.replace(/^http:\/\/[^/]+/, server.url);
    const offset = await offsetOf(moved);
    expect(offset).to.be.greaterThan(0);
    expect((await sendPart(moved, offset, content.slice(offset))).status).to.equal(204);
    expect((await server.settled((await clipNamed('cut.mp4'))?.id ?? '')).state).to.equal('measured');
  });

  it('refuses an empty file and an unknown batch before anything is sent', async () => {
    const empty = await openUpload('nothing.mov', 0);
    expect(empty.status).to.equal(422);
    expect(empty.text).to.contain('nothing.mov: the file is empty');
  });

  inLongRuns('finishes a measurement that the end of the server cut short', async () => {
    const [{ id }] = await register(await placed('noisy', 'interrupted.mp4'));
    await until(async () => (await server.get<Clip>(`/clips/${id}`)).state === 'measuring');
    await server.restart();
    const clip = await server.settled(id);
    expect([clip.state, clip.judgement?.verdict]).to.deep.equal(['measured', 'fail']);
  });

  it('tells open pages how a measurement goes on', async () => {
    const abort = new AbortController();
    const events = await fetch(`${server.url}/api/events`, { signal: abort.signal });
    const [{ id }] = await register(await placed('clean', 'watched.mp4'));
    await server.settled(id);
    let heard = '';
    const reader = events.body!.pipeThrough(new TextDecoderStream()).getReader();
    while (!heard.includes(`"state":"measured"`)) heard += (await reader.read()).value ?? '';
    abort.abort();
    expect(heard).to.contain(id).and.to.contain('"state":"measuring"');
  });
});
