import { createHash, randomUUID } from 'node:crypto';
import { createReadStream, existsSync } from 'node:fs';
import { mkdir, readdir, rm } from 'node:fs/promises';
import { hostname } from 'node:os';
import { join } from 'node:path';
import { pipeline } from 'node:stream/promises';
import { moveWhole } from './files.js';

const NAME = /^[0-9a-f]{64}(-[a-z0-9-]+)?\.(jpg|mp4)$/;
const PART = /^part\.([^ ]+) (\d+) [0-9a-f-]+\.(jpg|mp4)$/;

/**
 * Pictures and playing copies by their content: the name of one is the SHA-256 of its bytes, so that what is read under a
 * name never changes.
 */
export class PictureStore {
  private constructor(private readonly folder: string) {}

  static async open(storeDir: string): Promise<PictureStore> {
    const store = new PictureStore(join(storeDir, 'pictures'));
    await mkdir(store.folder, { recursive: true });
    await store.removeLeft();
    return store;
  }

  /** Where a picture is, or would be. */
  pathOf(name: string): string {
    return join(this.folder, name);
  }

  has(name: string | null): name is string {
    return name !== null && existsSync(this.pathOf(name));
  }

  /** Whether a name from outside can be one of a picture here. */
  isName(name: string): boolean {
    return NAME.test(name);
  }

  /**
   * Makes a picture and keeps it: written aside, looked at, brought to the disk, then named by its content.
   * @param write makes the file at the path it is given
   * @param check throws when what was written is not whole
   * @returns its name
   */
  async keep(
    ending: 'jpg' | 'mp4',
    write: (path: string) => Promise<void>,
    check: (path: string) => Promise<void> = () => Promise.resolve(),
  ): Promise<string> {
    const part = join(this.folder, `part.${hostname()} ${process.pid} ${randomUUID()}.${ending}`);
    try {
      await write(part);
      await check(part);
      const name = `${await hashOfFile(part)}.${ending}`;
      await moveWhole(part, this.pathOf(name));
      return name;
    } catch (error) {
      await rm(part, { force: true });
      throw error;
    }
  }

  async remove(name: string): Promise<void> {
    const stem = name.replace(/\.\w+$/, '');
    for (const kept of await readdir(this.folder))
      if (kept.startsWith(stem)) await rm(this.pathOf(kept), { force: true });
  }

  /** Removes what processes of this machine had begun that have ended since. */
  private async removeLeft(): Promise<void> {
    for (const name of await readdir(this.folder)) {
      const [, host, pid] = PART.exec(name) ?? [];
      if (host === hostname() && !isRunning(Number(pid))) await rm(this.pathOf(name), { force: true });
    }
  }
}

const isRunning = (pid: number): boolean => {
  if (pid === process.pid) return true;
  try {
    process.kill(pid, 0);
    return true;
  } catch {
    return false;
  }
};

/** SHA-256 of a file, as hexadecimal figures. */
export const hashOfFile = async (path: string): Promise<string> => {
  const hash = createHash('sha256');
  await pipeline(createReadStream(path, { highWaterMark: 2 ** 20 }), hash);
  return hash.digest('hex');
};
