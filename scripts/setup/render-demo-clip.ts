import { existsSync } from 'node:fs';
import { rename, rm, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { renderClip, TIDEWATER } from '@bevrin/rig';

/** Renders one clip of the demo, as a process of its own so that clips can be drawn side by side. */
const [name, folder] = process.argv.slice(2);
const clip = TIDEWATER.find((c) => c.name === name);
if (!clip) throw new Error(`The demo has no clip "${name}".`);
const path = join(folder, clip.name);
const words = `${path}.truth.json`;
if (!existsSync(words)) {
  const temporary = join(folder, `.part-${clip.name}`);
  const truth = clip.truth(await renderClip(clip.recipe(), clip.codec, temporary, clip.storage));
  await rm(path, { recursive: true, force: true });
  await rename(temporary, path);
  await writeFile(words, JSON.stringify(truth, null, 2));
}
