import { expect } from 'chai';
import { spawnSync } from 'node:child_process';
import { existsSync } from 'node:fs';
import { copyFile, mkdir, readdir, readFile, rename, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import type {
  Batch,
  BatchDetail,
  Clip,
  ClipDetail,
  ClipPlan,
  OpenUpload,
  UnclaimedUpload,
} from '@bevrin/contract';
import { clipFile, FRAMES } from '../../../tests/support/clips.js';
import { ServerProcess } from '../../../tests/support/server-process.js';
import { until } from '../../../tests/support/until.js';
import { offsetOf, openUpload, sendPart } from '../../../scripts/setup/tus.js';

/** Frames that can really be decoded, whatever the index says. */
const framesIn = (path: string): number => {
  const counting = [
    '-v',
    'quiet',
    '-count_frames',
    '-select_streams',
    'v',
    '-show_entries',
    'stream=nb_read_frames',
  ];
  return Number(
    spawnSync('ffprobe', [...counting, '-of', 'csv=p=0', path], { encoding: 'utf8' }).stdout.trim(),
  );
};

describe('a server that is killed', function () {
  this.timeout(180_000);
  let server: ServerProcess;
  let batch: Batch;
  let content: Uint8Array<ArrayBuffer>;

  before(async () => {
    // What comes in while it is killed is measured at the end, all of it at once.
    server = await ServerProcess.start('.', { BEVRIN_ROLE: 'api' });
    const made = await server.send<Batch>('POST', '/batches', { name: 'Reel 9', specId: 'broadcast-hd' });
    batch = made.body;
    content = new Uint8Array(await readFile(await clipFile('brief')));
  });
  after(() => server.remove());

  const uploads = (): string => join(server.home, 'store', 'uploads');
  const folderOf = (clip: Clip): string => join(server.home, 'store', 'clips', clip.id);
  const clipNamed = async (name: string): Promise<Clip> =>
    (await server.get<BatchDetail>(`/batches/${batch.id}`)).clips.find((c) => c.name === name)!;
  const placed = async (name: string, clip: 'brief' | 'noisy' = 'brief'): Promise<string> => {
    await copyFile(await clipFile(clip), join(server.media, name));
    const { body } = await server.send<{ added: Clip[] }>('POST', `/batches/${batch.id}/clips`, {
      path: join(server.media, name),
    });
    return body.added[0].id;
  };
  /** Whether it is there as a whole, and waits for who measures it. */
  const arrived = async (name: string): Promise<boolean> => (await clipNamed(name)).state === 'queued';
  /** Sends the first half of a file, and kills the server. */
  const halfSent = async (name: string): Promise<{ address: string; id: string; half: number }> => {
    const { address } = await openUpload(server.url, batch.id, name, content.length);
    const half = content.length >> 1;
    await sendPart(address, 0, content.slice(0, half));
    await server.kill();
    return { address, id: address.split('/').pop()!, half };
  };

  it('goes on with an upload from the byte that had come, whoever asks for it', async () => {
    const { address, half } = await halfSent('half.mp4');
    await server.resume();
    const clip = await clipNamed('half.mp4');
    expect(clip.state).to.equal('interrupted');
    expect(clip.error).to.contain('half.mp4: the upload was cut off at about 50 %');
    const [open] = await server.get<OpenUpload[]>(`/batches/${batch.id}/uploads`);
    expect(open).to.include({ name: 'half.mp4', size: content.length, offset: half });
    expect(address).to.contain(open.uploadId);
    await sendPart(address, half, content.slice(half));
    await until(() => arrived('half.mp4'));
    expect(await server.get<OpenUpload[]>(`/batches/${batch.id}/uploads`)).to.deep.equal([]);
  });

  it('adopts an upload whose last byte came just before', async () => {
    const { address, id, half } = await halfSent('ended.mp4');
    await writeFile(join(uploads(), id), content.slice(half), { flag: 'a' });
    await server.resume();
    await until(() => arrived('ended.mp4'));
    expect(await offsetOf(address), 'who sent it is told that it is whole').to.equal(content.length);
  });

  it('adopts an upload whose file had been moved and not been written down', async () => {
    const { address, id } = await halfSent('moved.mp4');
    await server.resume();
    const clip = await clipNamed('moved.mp4');
    await server.kill();
    await mkdir(folderOf(clip), { recursive: true });
    await writeFile(join(uploads(), id), content);
    await rename(join(uploads(), id), join(folderOf(clip), 'original.mp4'));
    await server.resume();
    await until(() => arrived('moved.mp4'));
    expect(await offsetOf(address)).to.equal(content.length);
    expect(await readdir(uploads()), 'nothing is left over').to.deep.equal([]);
  });

  it('loses and doubles no clip when it is killed at any moment while files come in', async () => {
    const names = ['one.mp4', 'two.mp4', 'three.mp4'];
    for (const [round, name] of names.entries()) {
      const { address } = await openUpload(server.url, batch.id, name, content.length);
      const sending = sendPart(address, 0, content).catch(() => null);
      await new Promise((done) => setTimeout(done, 3 * round));
      await server.kill();
      await sending;
      await server.resume();
      const offset = await offsetOf(address);
      if (offset < content.length) await sendPart(address, offset, content.slice(offset));
    }
    for (const name of names) await until(() => arrived(name));
    const { clips } = await server.get<BatchDetail>(`/batches/${batch.id}`);
    expect(clips.filter((c) => names.includes(c.name))).to.have.length(3);
  });

  it('takes a file that is sent once more from its beginning for the same clip', async () => {
    await halfSent('again.mp4');
    await server.resume();
    const { address } = await openUpload(server.url, batch.id, 'again.mp4', content.length);
    await sendPart(address, 0, content);
    await until(() => arrived('again.mp4'));
    const { clips } = await server.get<BatchDetail>(`/batches/${batch.id}`);
    expect(clips.filter((c) => c.name === 'again.mp4')).to.have.length(1);
  });

  it('lists a file that belongs to no clip, and removes it when it is told to', async () => {
    await server.kill();
    await writeFile(join(uploads(), 'orphan'), content);
    const metadata = { filename: 'left.mp4', batchId: batch.id };
    await writeFile(
      join(uploads(), 'orphan.json'),
      JSON.stringify({ id: 'orphan', size: content.length, offset: 0, metadata }),
    );
    await server.resume();
    const [left] = await server.get<UnclaimedUpload[]>('/unclaimed-uploads');
    expect(left).to.include({ uploadId: 'orphan', name: 'left.mp4', bytes: content.length });
    const answer = await fetch(`${server.url}/api/unclaimed-uploads/orphan`, { method: 'DELETE' });
    expect(answer.status).to.equal(204);
    expect(await readdir(uploads())).to.deep.equal([]);
  });

  it('measures all that came in between, each once, when it measures', async () => {
    await server.kill();
    await server.resume({ BEVRIN_ROLE: 'all' });
    const { clips } = await server.get<BatchDetail>(`/batches/${batch.id}`);
    const names = ['half', 'ended', 'moved', 'one', 'two', 'three', 'again'].map((n) => `${n}.mp4`);
    expect(clips.map((c) => c.name)).to.have.members(names);
    for (const { id, name } of clips) {
      const { state, measurement } = await server.settled(id);
      expect(state, name).to.equal('measured');
      expect(measurement!.clip.frames).to.equal(12);
    }
  });

  it('measures what it was measuring, and knows no playing copy that is not whole', async () => {
    const id = await placed('killed.mp4', 'noisy');
    const pictures = join(server.home, 'store', 'pictures');
    const known = new Set(await readdir(pictures));
    const left = async (): Promise<string[]> =>
      (await readdir(pictures)).filter((n) => n.startsWith('part.'));
    await until(async () => (await left()).some((n) => n.endsWith('.mp4')));
    await server.kill();
    expect(await left(), 'what was half written lies there').to.not.be.empty;
    await server.resume();
    const clip = await server.settled(id);
    expect([clip.state, clip.judgement?.verdict]).to.deep.equal(['measured', 'fail']);
    expect(framesIn(join(pictures, clip.proxy!))).to.equal(FRAMES);
    expect(await left(), 'what was half written is gone').to.be.empty;
    const fresh = (await readdir(pictures)).filter((n) => !known.has(n));
    for (const name of fresh) expect([clip.poster, clip.proxy], name).to.include(name);
  });

  it('takes over the pictures that an earlier version kept with each clip', async () => {
    const id = await placed('former.mp4');
    const clip = await server.settled(id);
    const pictures = join(server.home, 'store', 'pictures');
    await server.kill();
    const former = join(server.home, 'store', 'clips', id);
    await mkdir(former, { recursive: true });
    await rename(join(pictures, clip.poster!), join(former, 'poster.jpg'));
    await rename(join(pictures, clip.proxy!), join(former, 'proxy.mp4'));
    await server.query('UPDATE versions SET poster = NULL, proxy = NULL WHERE clip_id = $1', [id]);
    await server.resume();
    expect(await server.get<ClipDetail>(`/clips/${id}`)).to.include({
      poster: clip.poster,
      proxy: clip.proxy,
    });
    expect(existsSync(join(pictures, clip.proxy!))).to.equal(true);
    expect(await readdir(former)).to.be.empty;
  });

  it('keeps what was decided, and what that means for the measurement, together', async () => {
    const id = await placed('decided.mp4');
    await server.settled(id);
    const { status } = await server.send<ClipPlan>('POST', `/clips/${id}/decisions`, {
      who: 'R. Hale',
      decision: { kind: 'overrule', overrides: { range: { startFrame: 0, endFrame: 7 } } },
    });
    await server.kill();
    expect(status).to.equal(201);
    await server.resume();
    await until(async () => (await server.settled(id)).measurement?.measuredUnder.range?.endFrame === 7);
    expect((await server.get<ClipPlan>(`/clips/${id}/plan`)).history).to.have.length(1);
  });
});
