import { expect } from 'chai';
import { measureClip } from '@bevrin/media';
import { renderStudy } from '@bevrin/rig';

describe('the same clip', function () {
  this.timeout(240_000);

  it('gives the same document, byte for byte: again, beside another, and with other threads', async () => {
    const { path } = await renderStudy({
      study: 'foliage',
      width: 480,
      height: 270,
      frames: 28,
      seed: 905,
      codec: 'h264',
      camera: { handPx: 2, handDeg: 0.1 },
      shutter: 0.3,
      readout: 0.4,
      noisePct: [1.2, 1, 1.5],
    });
    const first = JSON.stringify(await measureClip(path));
    expect(JSON.stringify(await measureClip(path, { decoderThreads: 1 })), 'one thread').to.equal(first);
    const both = await Promise.all([
      measureClip(path, { decoderThreads: 4 }),
      measureClip(path, { decoderThreads: 2 }),
    ]);
    for (const one of both) expect(JSON.stringify(one), 'two at once').to.equal(first);
  });

  it('stops at once when it is told to, and says so', async () => {
    const { path } = await renderStudy({
      study: 'wall',
      width: 320,
      height: 180,
      frames: 40,
      seed: 82,
      codec: 'h264',
      camera: { handPx: 0.3 },
      noisePct: [5, 5, 5],
    });
    const stop = new AbortController();
    const seen: number[] = [];
    const refusal = await measureClip(path, {
      signal: stop.signal,
      progress: (share) => {
        seen.push(share);
        stop.abort(new Error('the technician stopped it'));
      },
    }).then(
      () => '',
      (error: Error) => error.message,
    );
    expect(refusal).to.equal('the technician stopped it');
    expect(seen.length).to.be.lessThan(40);
  });
});
