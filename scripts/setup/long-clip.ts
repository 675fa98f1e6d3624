import { existsSync } from 'node:fs';
import { mkdir, rename, rm } from 'node:fs/promises';
import { dirname } from 'node:path';
import { encodeFrames, repeatClip } from '@bevrin/media';
import { pixelFormatName, renderFrames, type ClipRecipe } from '@bevrin/rig';

/** Makes a long clip, once: the frames of a recipe are drawn, gone through forth and back, and that is repeated. */
export const makeLongClip = async (path: string, recipe: ClipRecipe, length: number): Promise<void> => {
  if (existsSync(path)) return;
  console.log('making the clip, once …');
  await mkdir(dirname(path), { recursive: true });
  const frames: Uint8Array[] = [];
  for (const frame of renderFrames(recipe)) frames.push(Uint8Array.from(frame));
  const round = [...frames, ...frames.slice(1, -1).reverse()];
  const { width, height, frameRate, format } = recipe;
  const [once, temporary] = [`${path}.once.mp4`, `${path}.part.mp4`];
  await encodeFrames({ width, height, frameRate, pixelFormat: pixelFormatName(format) }, 'h264', round, once);
  await repeatClip(once, Math.ceil(length / round.length), temporary);
  await rm(once);
  await rename(temporary, path);
};
