import { existsSync } from 'node:fs';
import { rename, rm, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { renderClip, TIDEWATER } from '@bevrin/rig';
import { noiseLeft } from './noise-left.js';

/**
 * Draws clips of the demo, one after the other, as it is told their names: a process of its own, so that clips can be
 * drawn side by side.
 */
const [folder] = process.argv.slice(2);

const draw = async (name: string): Promise<void> => {
  const clip = TIDEWATER.find((c) => c.name === name);
  if (!clip) throw new Error(`The demo has no clip "${name}".`);
  const path = join(folder, clip.name);
  const words = `${path}.truth.json`;
  if (existsSync(words)) return;
  const temporary = join(folder, `.part-${clip.name}`);
  const rendered = await renderClip(clip.recipe(), clip.codec, temporary, clip.storage);
  // Truth is what the file shows: of the noise, what the codec left.
  const truth = await Promise.all(
    clip
      .truth(rendered)
      .map(async (t) =>
        t.reading === 'noise.lumaPct' ? { ...t, value: await noiseLeft(clip, temporary, folder) } : t,
      ),
  );
  await rm(path, { recursive: true, force: true });
  await rename(temporary, path);
  await writeFile(words, JSON.stringify(truth, null, 2));
};

process.on('message', (name: string) => void draw(name).then(() => process.send?.(name)));
process.once('disconnect', () => process.exit(0));
