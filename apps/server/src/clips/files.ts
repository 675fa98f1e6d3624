import { randomUUID } from 'node:crypto';
import { open, readdir, rename, rm } from 'node:fs/promises';
import { basename, dirname, extname, join } from 'node:path';

/** The ending of a name with its dot; nothing where it is none that a file could have. */
export const endingOf = (name: string): string => /^\.[A-Za-z0-9]{1,8}$/.exec(extname(name))?.[0] ?? '';

/** Waits until the disk has what was written to a file or changed in a folder. */
export const syncToDisk = async (path: string): Promise<void> => {
  const handle = await open(path, 'r');
  try {
    await handle.sync();
  } finally {
    await handle.close();
  }
};

/** Moves a file that is complete to its place; after a crash it is at the one or the other, whole. */
export const moveWhole = async (from: string, to: string): Promise<void> => {
  await syncToDisk(from);
  await rename(from, to);
  await syncToDisk(dirname(to));
  if (dirname(from) !== dirname(to)) await syncToDisk(dirname(from));
};

/**
 * Writes a file so that it is there whole or not at all: beside its place, looked at, brought to the disk, then moved.
 * Each attempt has a name of its own: an encoder that outlived a server that was killed goes on writing to its own file.
 * @param write makes the file at the path it is given
 * @param check throws when what was written is not whole
 */
export const writeWhole = async (
  path: string,
  write: (path: string) => Promise<void>,
  check: (path: string) => Promise<void> = () => Promise.resolve(),
): Promise<void> => {
  const before = writing.get(path) ?? Promise.resolve();
  const mine = before.catch(() => undefined).then(() => attempt(path, write, check));
  writing.set(path, mine);
  try {
    await mine;
  } finally {
    if (writing.get(path) === mine) writing.delete(path);
  }
};

/** One file is written by one at a time. */
const writing = new Map<string, Promise<void>>();

const attempt = async (
  path: string,
  write: (path: string) => Promise<void>,
  check: (path: string) => Promise<void>,
): Promise<void> => {
  await removeParts(path);
  const part = `${path}.${randomUUID()}${PART}`;
  try {
    await write(part);
    await check(part);
    await moveWhole(part, path);
    // An encoder of a server that was killed may have made its own only after we had looked.
    await removeParts(path);
  } catch (error) {
    await rm(part, { force: true });
    throw error;
  }
};

const PART = '.part';

/** Removes what earlier attempts at a file left behind. */
export const removeParts = async (path: string): Promise<void> => {
  const names = await readdir(dirname(path)).catch(() => [] as string[]);
  for (const name of names)
    if (name.startsWith(`${basename(path)}.`) && name.endsWith(PART))
      await rm(join(dirname(path), name), { force: true });
};
