import { existsSync } from 'node:fs';
import { mkdir, rename } from 'node:fs/promises';
import { dirname } from 'node:path';
import { encodeFrames } from '@bevrin/media';
import { pixelFormatName, renderFrames, type ClipRecipe } from '@bevrin/rig';

/** Makes a long clip, once: the frames of a recipe are drawn, and gone through forth and back. */
export const makeLongClip = async (path: string, recipe: ClipRecipe, length: number): Promise<void> => {
  if (existsSync(path)) return;
  console.log('making the clip, once …');
  await mkdir(dirname(path), { recursive: true });
  const frames: Uint8Array[] = [];
  for (const frame of renderFrames(recipe)) frames.push(Uint8Array.from(frame));
  const last = frames.length - 1;
  const there = function* (): Generator<Uint8Array> {
    for (let f = 0; f < length; f++) yield frames[last - Math.abs((f % (2 * last)) - last)];
  };
  const { width, height, frameRate, format } = recipe;
  const temporary = `${path}.part.mp4`;
  await encodeFrames(
    { width, height, frameRate, pixelFormat: pixelFormatName(format) },
    'h264',
    there(),
    temporary,
  );
  await rename(temporary, path);
};
