import { expect } from 'chai';
import { spawnSync } from 'node:child_process';
import { copyFile } from 'node:fs/promises';
import { join } from 'node:path';
import { FrameLayout, type Batch, type Clip } from '@bevrin/contract';
import { familyOf } from '../../../../scripts/setup/processes.js';
import { clipFile, FRAMES, HEIGHT, WIDTH } from '../../../../tests/support/clips.js';
import { startTestServer, type TestServer } from '../../../../tests/support/test-server.js';

describe('frames as they are stored', function () {
  this.timeout(120_000);
  let server: TestServer;
  let clip: Clip;
  /** Every frame, decoded in one go. */
  let truth: Buffer[];

  before(async () => {
    server = await startTestServer();
    const path = join(server.media, 'clean.mp4');
    await copyFile(await clipFile('clean'), path);
    const batch = (await server.send('POST', '/batches', { name: 'Reel', specId: 'broadcast-hd' }))
      .body as Batch;
    const { body } = await server.send('POST', `/batches/${batch.id}/clips`, { path });
    [clip] = (body as { added: Clip[] }).added;
    await server.settled(clip.id);
    const all = spawnSync('ffmpeg', ['-v', 'error', '-i', path, '-f', 'rawvideo', 'pipe:1'], {
      maxBuffer: 2 ** 28,
    }).stdout;
    const size = all.length / FRAMES;
    truth = Array.from({ length: FRAMES }, (_, i) => all.subarray(i * size, (i + 1) * size));
  });
  after(() => server.stop());

  const frame = async (n: number): Promise<{ bytes: Buffer; layout: FrameLayout }> => {
    const answer = await fetch(`${server.url}/api/clips/${clip.id}/frames/${n}.planes`);
    expect(answer.status, `frame ${n}`).to.equal(200);
    return {
      bytes: Buffer.from(await answer.arrayBuffer()),
      layout: FrameLayout.parse(JSON.parse(answer.headers.get('x-frame-layout') ?? '')),
    };
  };

  it('say how they lie in their bytes', async () => {
    const { layout, bytes } = await frame(0);
    expect(layout).to.deep.equal({
      bytesPerSample: 1,
      planes: [
        { width: WIDTH, height: HEIGHT },
        { width: WIDTH / 2, height: HEIGHT / 2 },
        { width: WIDTH / 2, height: HEIGHT / 2 },
      ],
    });
    expect(bytes.length).to.equal(WIDTH * HEIGHT * 1.5);
  });

  it('are the same whichever way one comes to them: stepping, jumping, going back', async () => {
    for (const n of [7, 8, 9, 10, 9, 3, 24, 0, 20, 19, 23])
      expect((await frame(n)).bytes.equals(truth[n]), `frame ${n}`).to.equal(true);
  });

  it('are the same when many are asked for at once', async () => {
    const wanted = [21, 2, 17, 18, 23, 5];
    const seen = await Promise.all(wanted.map(frame));
    wanted.forEach((n, i) => expect(seen[i].bytes.equals(truth[n]), `frame ${n}`).to.equal(true));
  });

  it('are there already where somebody said that they will be wanted', async () => {
    await server.restart();
    // Far from the end: of the last few frames the rest goes into a pipe, and its decoder is through.
    const wanted = 5;
    const decoders = (): number[] =>
      familyOf(process.pid).flatMap((p) => (p.name === 'ffmpeg' && !p.zombie ? [p.pid] : []));
    const idle = decoders();
    const { status } = await server.send('POST', `/clips/${clip.id}/frames/${wanted}/expect`);
    expect(status).to.equal(202);
    const begun = (): number[] => decoders().filter((pid) => !idle.includes(pid));
    while (begun().length === 0) await new Promise((done) => setTimeout(done, 20));
    const expected = begun();
    expect((await frame(wanted)).bytes.equals(truth[wanted])).to.equal(true);
    expect(begun(), 'nobody had to begin anew').to.deep.equal(expected);
  });

  it('end with the last one, and what is no number is none', async () => {
    const beyond = await server.send('GET', `/clips/${clip.id}/frames/4000.planes`);
    expect([beyond.status, (beyond.body as { error: string }).error]).to.deep.equal([
      422,
      `clean.mp4: there is no frame 4000; the last one is ${FRAMES - 1}. Choose another frame.`,
    ]);
    expect((await server.send('GET', `/clips/${clip.id}/frames/x.planes`)).status).to.equal(400);
    expect((await server.send('GET', `/clips/${clip.id}/frames/-1.planes`)).status).to.equal(400);
  });

  it('come as a film strip, too', async () => {
    for (let i = 0; i < 2; i++) {
      const answer = await fetch(`${server.url}/api/clips/${clip.id}/strip.jpg`);
      expect([answer.status, answer.headers.get('content-type')]).to.deep.equal([200, 'image/jpeg']);
      expect((await answer.arrayBuffer()).byteLength).to.be.greaterThan(2000);
    }
  });
});
