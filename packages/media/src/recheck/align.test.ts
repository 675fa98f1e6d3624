import { expect } from 'chai';
import { renderStudy, type StudyClip } from '@bevrin/rig';
import { Bench } from '../../../../tests/recheck/pairs.js';
import { shareOf } from '../../../../tests/support/share.js';
import { openSource } from '../source.js';
import { probeClip } from '../probe.js';
import { alignClips, type FoundAlignment } from './align.js';
import { Shelf } from './shelf.js';

const shot: StudyClip = {
  study: 'wall',
  width: 320,
  height: 180,
  frames: 25,
  camera: { handPx: 0.3 },
  noisePct: [5, 5, 5],
  codec: 'h264',
  seed: 2311,
};

/** How a file lies on another. */
const lies = async (original: string, repaired: string): Promise<FoundAlignment | null> => {
  const [one, other] = await Promise.all(
    [original, repaired].map(async (path) => new Shelf(await probeClip(await openSource(path)), undefined)),
  );
  return alignClips({ original: one, repaired: other });
};

describe('a repaired file on its original', function () {
  this.timeout(120_000);
  let bench: Bench;
  before(async () => (bench = await Bench.open()));
  after(() => bench.close());

  for (const [noisePct, seed] of shareOf(
    [
      [5, 2311],
      [0.4, 2313],
    ],
    1,
  ))
    it(`was not steadied where noise of ${noisePct} % was blurred away: seed ${seed}`, async () => {
      const { path } = await renderStudy({ ...shot, seed, noisePct: [noisePct, noisePct, noisePct] });
      const found = await lies(path, bench.filtered(path, 'gblur=sigma=2'));
      expect(found).to.include({ offset: 0, steadied: false });
      expect(found!.times).to.deep.equal([]);
    });

  it('was steadied where each frame was moved by a few pixels under noise', async () => {
    const { path } = await renderStudy(shot);
    const moved = bench.filtered(path, "crop=288:162:x='16+3*sin(n*2.1)':y='9+3*cos(n*1.7)',scale=320:180");
    expect(await lies(path, moved)).to.include({ offset: 0, steadied: true });
  });
});
