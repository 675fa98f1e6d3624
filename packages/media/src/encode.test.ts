import { expect } from 'chai';
import { existsSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { planFeed } from '@bevrin/core';
import { encodeFrames, repeatClip } from './encode.js';
import { decode } from './feed.js';
import { probeClip } from './probe.js';
import { openSource } from './source.js';

const [W, H] = [64, 48];
const frame = (luma: number): Uint8Array => new Uint8Array((W * H * 3) / 2).fill(128).fill(luma, 0, W * H);
const messageOf = (work: Promise<unknown>): Promise<string> =>
  work.then(
    () => 'done',
    (error: Error) => error.message,
  );

describe('encoding', function () {
  this.timeout(60_000);
  const folder = mkdtempSync(join(tmpdir(), 'bevrin-encode-'));
  after(() => rmSync(folder, { recursive: true }));

  it('joins a clip to itself: every frame again, in its order', async () => {
    const levels = [40, 80, 120, 160];
    const [once, thrice] = [join(folder, 'once.mp4'), join(folder, 'thrice.mp4')];
    await encodeFrames(
      { width: W, height: H, frameRate: '25/1', pixelFormat: 'yuv420p' },
      'h264Lossless',
      levels.map(frame),
      once,
    );
    await repeatClip(once, 3, thrice);
    const clip = await probeClip(await openSource(thrice));
    const seen: number[] = [];
    await decode(
      clip,
      planFeed(clip.facts),
      ({ view, planes }) => void (view === 'small' && seen.push(planes[0].samples[0] / 256)),
    );
    expect(seen).to.deep.equal([...levels, ...levels, ...levels]);
  });

  it('says why it could not join or encode', async () => {
    expect(await messageOf(repeatClip(join(folder, 'gone.mp4'), 2, join(folder, 'none.mp4')))).to.contain(
      'gone.mp4 could not be repeated: ',
    );
    const nowhere = join(folder, 'no such folder', 'clip.mp4');
    const raw = { width: W, height: H, frameRate: '25/1', pixelFormat: 'yuv420p' };
    expect(
      await messageOf(
        encodeFrames(
          raw,
          'h264',
          Array.from({ length: 400 }, () => frame(90)),
          nowhere,
        ),
      ),
    ).to.contain(`The encoder failed on ${nowhere}: `);
    expect(existsSync(nowhere)).to.equal(false);
  });
});
