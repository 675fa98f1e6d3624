import { expect } from 'chai';
import { mkdtempSync, readdirSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Codec } from '@bevrin/media';
import { renderClip, studyRecipe } from '@bevrin/rig';
import { noiseLeft } from './noise-left.js';

describe('the noise that a codec leaves', function () {
  this.timeout(60_000);
  let folder = '';
  before(() => (folder = mkdtempSync(join(tmpdir(), 'bevrin-noise-'))));
  after(() => rmSync(folder, { recursive: true }));

  const recipe = () =>
    studyRecipe({
      study: 'wall',
      width: 240,
      height: 136,
      frames: 40,
      noisePct: [2, 2, 2],
      seed: 4,
      camera: { handPx: 1 },
    });
  const left = async (codec: Codec): Promise<number> => {
    const stored = join(folder, 'wall.mp4');
    await renderClip(recipe(), codec, stored);
    return noiseLeft({ name: 'wall.mp4', codec, recipe }, stored, folder);
  };

  it('is what was put in where nothing is lost, luma of three even channels', async () => {
    expect(await left('h264Lossless')).to.be.closeTo(2 * Math.hypot(0.2126, 0.7152, 0.0722), 0.06);
  });

  it('is less where a camera saves bits, and leaves no file behind', async () => {
    expect(await left('h264')).to.be.within(0.3, 1.45);
    expect(readdirSync(folder)).to.deep.equal(['wall.mp4']);
  });
});
