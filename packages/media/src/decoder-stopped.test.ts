import { expect } from 'chai';
import { spawnSync } from 'node:child_process';
import { mkdtemp, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { familyOf } from '../../../scripts/setup/processes.js';
import { encodeFrames } from './encode.js';
import { readLimits } from './limits.js';
import { decode } from './feed.js';
import { FrameRun } from './frame-run.js';
import { measureClip } from './measure-clip.js';
import { probeClip } from './probe.js';
import { openSource } from './source.js';
import { run } from './tools.js';
import { planFeed } from '@bevrin/core';
import { asACommand } from '../../../tests/support/command.js';

const [W, H, FRAMES] = [320, 180, 150];
const frames = function* (): Generator<Uint8Array> {
  for (let f = 0; f < FRAMES; f++)
    yield Uint8Array.from({ length: (W * H * 3) / 2 }, (_, i) => 60 + ((i * 7 + f * 13) % 120));
};

/** Kills the decoders that this process runs, as the kernel does when memory runs out. */
const killDecoders = (): void => {
  for (const { pid, name, zombie } of familyOf(process.pid))
    if (name === 'ffmpeg' && !zombie) process.kill(pid, 'SIGKILL');
};

describe('a decoder that does not come to its end', function () {
  this.timeout(120_000);
  let folder = '';
  let clip = '';
  before(async () => {
    folder = await mkdtemp(join(tmpdir(), 'bevrin-stopped-'));
    clip = join(folder, 'long.mp4');
    await encodeFrames(
      { width: W, height: H, frameRate: '25/1', pixelFormat: 'yuv420p' },
      'h264',
      frames(),
      clip,
    );
  });
  after(() => rm(folder, { recursive: true }));

  const outcomeOf = (work: Promise<unknown>): Promise<string> =>
    work.then(
      () => 'finished',
      (error: Error) => `${error.name}: ${error.message}`,
    );

  it('gives no measurement when it is killed, and says at which frame', async () => {
    let killed = false;
    const outcome = await outcomeOf(
      measureClip(clip, {
        progress: (share) => {
          if (share < 0.4 || killed) return;
          killed = true;
          killDecoders();
        },
      }),
    );
    expect(outcome).to.match(
      /^DecoderStopped: long\.mp4: the decoder was stopped at frame (\d+) of 150 \(SIGKILL\)/,
    );
    const at = Number(/frame (\d+) of/.exec(outcome)?.[1]);
    expect(at).to.be.within(60, 149);
  });

  it('gives no measurement when it is killed on the last frames of a range', async () => {
    let killed = false;
    const outcome = await outcomeOf(
      measureClip(clip, {
        overrides: { range: { startFrame: 20, endFrame: 139 } },
        progress: () => {
          if (!killed) killDecoders();
          killed = true;
        },
      }),
    );
    expect(outcome).to.match(/stopped at frame \d+ of 150/);
  });

  it('is told from a frame that the clip does not have', async () => {
    const probed = await probeClip(await openSource(clip));
    const going = new FrameRun(probed, 0);
    await going.read();
    killDecoders();
    let outcome = '';
    for (let f = 1; f < FRAMES && !outcome; f++) outcome = await going.read().then(() => '', String);
    expect(outcome).to.match(/^DecoderStopped: long\.mp4: the decoder was stopped at frame \d+/);
  });

  it('is ended when it is slower than the house allows', async () => {
    const limits = { ...readLimits({}), decodeMs: 1 };
    const probed = await probeClip(await openSource(clip), limits);
    const slow = decode(probed, planFeed(probed.facts), () => {
      // The first frame alone takes longer than is allowed.
      Atomics.wait(new Int32Array(new SharedArrayBuffer(4)), 0, 0, 5);
    });
    expect(await outcomeOf(slow)).to.contain('raise BEVRIN_MAX_DECODE_MINUTES');
  });

  it('is ended when it is stuck', async () => {
    const fifo = join(folder, 'pipe.y4m');
    const probed = await probeClip(await openSource(clip), { ...readLimits({}), stallMs: 1500 });
    // A pipe that nobody writes to: the decoder waits for its first byte for ever.
    spawnSync('mkfifo', [fifo]);
    const waiting = { ...probed, source: { ...probed.source, input: ['-f', 'yuv4mpegpipe', '-i', fifo] } };
    expect(await outcomeOf(decode(waiting, planFeed(probed.facts), () => undefined))).to.contain(
      'the decoder gave nothing for 1.5 s after frame 0 of 150',
    );
  });

  it('has not decoded what the container states when frames are missing, whatever it says', async () => {
    const whole = await readFile(clip);
    const cut = join(folder, 'cut.mp4');
    // The index stands in front, so that the file opens; the decoder's messages and status are withheld.
    await writeFile(cut, whole.subarray(0, Math.floor(whole.length * 0.6)));
    const silent = join(folder, 'ffmpeg');
    await writeFile(silent, '#!/bin/sh\n/usr/bin/ffmpeg "$@" 2>/dev/null\nexit 0\n', { mode: 0o755 });
    const { status, stdout, stderr } = spawnSync(process.execPath, ['apps/cli/measure.mjs', cut, '--json'], {
      ...asACommand(),
      env: { ...process.env, PATH: `${folder}:${process.env.PATH}` },
    });
    expect([status, stdout]).to.deep.equal([1, '']);
    expect(stderr).to.match(/cut\.mp4: the file ends or breaks at frame \d+ of 150/);
  });

  it('takes a clip whose edit list leaves its beginning out for whole', async () => {
    const edited = join(folder, 'edited.mp4');
    await run('ffmpeg', ['-v', 'error', '-ss', '3.1', '-i', clip, '-c', 'copy', edited]);
    const { clip: facts } = await measureClip(edited, { only: ['noise'] });
    expect(facts.frames).to.be.within(70, 74);
  });
});

describe('a clip that is larger than the house allows', function () {
  this.timeout(60_000);
  let folder = '';
  before(async () => void (folder = await mkdtemp(join(tmpdir(), 'bevrin-large-'))));
  after(() => rm(folder, { recursive: true }));

  const refusal = (path: string, limits = readLimits({})): Promise<string> =>
    openSource(path)
      .then((source) => probeClip(source, limits))
      .then(
        () => 'taken',
        (error: Error) => `${error.name}: ${error.message}`,
      );

  it('is refused by its pixels before anything is decoded', async () => {
    const still = join(folder, 'wall.png');
    const colour = 'color=gray:s=2000x1500';
    await run('ffmpeg', ['-v', 'error', '-f', 'lavfi', '-i', colour, '-frames:v', '1', still]);
    expect(await refusal(still, readLimits({ BEVRIN_MAX_PIXELS: '2500000' }))).to.equal(
      'ClipUnreadable: wall.png: its picture has 2000×1500 pixels, more than the 2.5 million that this house decodes. Ask for a smaller one, or raise BEVRIN_MAX_PIXELS.',
    );
    expect(await refusal(still)).to.equal('taken');
  });

  it('is refused by its frames, and taken by a house that allows more', async () => {
    const clip = join(folder, 'short.mp4');
    await run('ffmpeg', ['-v', 'error', '-f', 'lavfi', '-i', 'testsrc2=s=64x64:d=2', clip]);
    const limits = { ...readLimits({}), frames: 49 };
    expect(await refusal(clip, limits)).to.contain('it has 50 frames, more than the 49');
    expect(await refusal(clip, { ...limits, frames: 50 })).to.equal('taken');
  });

  it('is measured against limits that must be numbers', () => {
    expect(() => readLimits({ BEVRIN_MAX_PIXELS: 'many' })).to.throw('BEVRIN_MAX_PIXELS is not usable');
    expect(readLimits({ BEVRIN_MAX_PIXELS: '1000', BEVRIN_MAX_STALL_SECONDS: '2' })).to.include({
      pixels: 1000,
      stallMs: 2000,
    });
  });
});
