import { expect } from 'chai';
import { renderStudy } from '@bevrin/rig';
import { FrameRun } from './frame-run.js';
import { probeClip } from './probe.js';
import { openSource } from './source.js';

describe('frames one after another', function () {
  this.timeout(60_000);

  it('are all there, though the decoder of a small clip ends while nobody reads', async () => {
    const { path } = await renderStudy({
      width: 96,
      height: 64,
      frames: 8,
      study: 'wall',
      seed: 2321,
      codec: 'h264',
    });
    const run = new FrameRun(await probeClip(await openSource(path)), 0);
    try {
      const first = await run.read();
      expect(first).to.have.length(96 * 64 * 1.5);
      // By then it has written all of them into the pipe, and is gone.
      await new Promise((done) => setTimeout(done, 1500));
      for (let frame = 1; frame < 8; frame++)
        expect(await run.read(), `frame ${frame}`).to.have.length(96 * 64 * 1.5);
      expect(await run.read()).to.equal(null);
    } finally {
      run.stop();
    }
  });
});
