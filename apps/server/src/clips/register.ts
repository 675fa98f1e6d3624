import { readdir, realpath, stat } from 'node:fs/promises';
import { basename, extname, join, sep } from 'node:path';
import type { Clip } from '@bevrin/contract';
import { printable } from '@bevrin/contract';
import type { ClipStore } from './clips.js';
import type { MeasureQueue } from '../jobs/queue.js';
import { Problem } from '../http/problem.js';

const MEDIA_ENDINGS = new Set([
  '.mov',
  '.mp4',
  '.m4v',
  '.mxf',
  '.mkv',
  '.avi',
  '.webm',
  '.y4m',
  '.mpg',
  '.mpeg',
  '.ts',
  '.m2ts',
]);

/**
 * Registers a file on the server, a folder of numbered stills, or every media file of a folder.
 * @throws {Problem} when the path is not there, lies outside the media folders, or holds nothing
 */
export const registerPath = async (
  path: string,
  batchId: string,
  store: ClipStore,
  queue: MeasureQueue,
  mediaDirs: readonly string[],
): Promise<Clip[]> => {
  const real = await insideMedia(path, mediaDirs);
  const added: Clip[] = [];
  for (const file of await clipsAt(real)) {
    if (await store.hasPath(batchId, file)) continue;
    const clip = await store.add({ batchId, name: basename(file), state: 'queued', file: { path: file } });
    await queue.enqueue(clip.id);
    added.push(clip);
  }
  if (added.length === 0)
    throw new Problem(409, `${printable(basename(real))}: every clip of it is in this batch already.`);
  return added;
};

/**
 * A path on the server, as it really is.
 * @throws {Problem} when it is not there, or lies outside the media folders
 */
export const insideMedia = async (path: string, mediaDirs: readonly string[]): Promise<string> => {
  const name = printable(path);
  if (path.includes('\0')) throw new Problem(422, 'A path cannot hold a zero character. Check it.');
  const roots = await Promise.all(mediaDirs.map((d) => realpath(d).catch(() => d)));
  const inside = (p: string): boolean => roots.some((root) => p === root || p.startsWith(root + sep));
  const outside = new Problem(
    403,
    `${name}: this path lies outside the media folders (${mediaDirs.join(', ')}). Move the file there, or start Bevrin with its folder in MEDIA_DIRS.`,
  );
  const real = await realpath(path).catch(() => null);
  if (real === null)
    throw inside(path)
      ? new Problem(404, `${name}: there is no such file or folder on the server. Check the path.`)
      : outside;
  if (!inside(real)) throw outside;
  return real;
};

/** The media files of a folder, or the file or folder of stills itself. */
export const clipsAt = async (path: string): Promise<string[]> => {
  if (!(await stat(path)).isDirectory()) return [path];
  const names = (await readdir(path)).sort();
  const media = names.filter((n) => MEDIA_ENDINGS.has(extname(n).toLowerCase())).map((n) => join(path, n));
  if (media.length > 0) return media;
  if (names.some((n) => /\d\.(png|tiff?|dpx|jpe?g)$/i.test(n))) return [path];
  throw new Problem(
    422,
    `${printable(basename(path))}: the folder holds neither media files nor numbered stills.`,
  );
};
