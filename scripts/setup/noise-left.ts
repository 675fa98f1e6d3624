import { rm } from 'node:fs/promises';
import { join } from 'node:path';
import { lumaScale, type Picture } from '@bevrin/core';
import { openSource, probeClip, readPictures } from '@bevrin/media';
import { renderClip, type ScenarioClip } from '@bevrin/rig';

/** Frames that are compared. */
const FRAMES = 16;

const framesOf = async (path: string): Promise<{ pictures: Picture[]; span: number }> => {
  const probed = await probeClip(await openSource(path));
  return { pictures: await readPictures(probed, 0, FRAMES), span: lumaScale(probed.facts).span };
};

/**
 * The noise of luma that a codec leaves of what was put in: the beginning of a clip is drawn once more, alike but for its
 * noise, and stored as it is; what the two then differ by is the noise of both.
 * @param stored the clip as it was drawn and stored
 * @param folder for the other take, which does not stay
 * @returns standard deviation, % of range
 */
export const noiseLeft = async (
  { name, recipe, codec, storage }: Pick<ScenarioClip, 'name' | 'recipe' | 'codec' | 'storage'>,
  stored: string,
  folder: string,
): Promise<number> => {
  const { pictures, span } = await framesOf(stored);
  const path = join(folder, `.take-${name}`);
  const drawn = recipe();
  let [power, count] = [0, 0];
  try {
    await renderClip({ ...drawn, seed: drawn.seed + 1, frames: FRAMES }, codec, path, storage);
    const others = (await framesOf(path)).pictures;
    pictures.forEach(({ planes: [luma] }, f) => {
      const beside = others[f].planes[0].samples;
      for (let i = 0; i < luma.samples.length; i++) power += (luma.samples[i] - beside[i]) ** 2;
      count += luma.samples.length;
    });
  } finally {
    await rm(path, { recursive: true, force: true });
  }
  return (100 * Math.sqrt(power / count / 2)) / span;
};
