import { stat } from 'node:fs/promises';
import { LRUCache } from 'lru-cache';
import type { Source } from './source.js';

/** What is known of files is kept for so many of them, those that were asked for last. */
const MOST = 200;

/**
 * What tells that a file is the very one that was read before: where it lies on the disk, its size, and when it was written.
 * @returns `null` where it cannot be told: of stills, which are many files, and of what cannot be looked at
 */
const identityOf = async ({ path, files, stills }: Source): Promise<string | null> => {
  if (stills !== null || files.length !== 1) return null;
  const found = await stat(path, { bigint: true }).catch(() => null);
  return found && [path, found.dev, found.ino, found.size, found.mtimeNs, found.ctimeNs].join(' ');
};

/**
 * Reads something from a file once, however often it is asked for, until the file is another. What fails is tried anew.
 * @param read what is read; it must depend on nothing but the file and what is asked with it
 */
export const oncePerFile = <Asked, Found>(
  read: (source: Source, asked: Asked) => Promise<Found>,
): ((source: Source, asked: Asked) => Promise<Found>) => {
  const known = new LRUCache<string, Promise<Found>>({ max: MOST });
  return async (source, asked) => {
    const identity = await identityOf(source);
    if (identity === null) return read(source, asked);
    const key = `${identity} ${JSON.stringify(asked)}`;
    const found = known.get(key) ?? read(source, asked);
    known.set(key, found);
    found.catch(() => known.delete(key));
    return found;
  };
};
