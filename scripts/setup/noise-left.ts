import { rm } from 'node:fs/promises';
import { join } from 'node:path';
import type { Picture } from '@bevrin/core';
import { openSource, probeClip, readPictures } from '@bevrin/media';
import { renderClip, type ScenarioClip } from '@bevrin/rig';

/** Frames of each of the two takes. */
const FRAMES = 16;

/**
 * The noise of luma that a codec leaves of what was put in: the clip is drawn twice, alike but for its noise, and stored as
 * it will be; what the two then differ by is the noise of both.
 * @param folder for the two takes, which do not stay
 * @returns standard deviation, % of range
 */
export const noiseLeft = async (
  { name, recipe, codec, storage }: Pick<ScenarioClip, 'name' | 'recipe' | 'codec' | 'storage'>,
  folder: string,
): Promise<number> => {
  const take = async (further: number): Promise<{ pictures: Picture[]; span: number }> => {
    const path = join(folder, `.take-${further}-${name}`);
    const drawn = recipe();
    try {
      await renderClip({ ...drawn, seed: drawn.seed + further, frames: FRAMES }, codec, path, storage);
      const probed = await probeClip(await openSource(path));
      const { bitDepth, range } = probed.facts;
      return {
        pictures: await readPictures(probed, 0, FRAMES),
        span: range === 'full' ? 2 ** bitDepth - 1 : 219 * 2 ** (bitDepth - 8),
      };
    } finally {
      await rm(path, { recursive: true, force: true });
    }
  };
  const [one, other] = [await take(0), await take(1)];
  let [power, count] = [0, 0];
  one.pictures.forEach(({ planes: [luma] }, f) => {
    const beside = other.pictures[f].planes[0].samples;
    for (let i = 0; i < luma.samples.length; i++) power += (luma.samples[i] - beside[i]) ** 2;
    count += luma.samples.length;
  });
  return (100 * Math.sqrt(power / count / 2)) / one.span;
};
