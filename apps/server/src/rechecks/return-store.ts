import { mkdir, stat } from 'node:fs/promises';
import { basename, extname, join } from 'node:path';
import { z } from 'zod';
import { printable, type OpenUpload } from '@bevrin/contract';
import type { DiskWatch } from '../clips/disk-watch.js';
import { endingOf, moveWhole } from '../clips/files.js';
import { SentFile, SyncedStore } from '../clips/synced-store.js';
import { Problem } from '../http/problem.js';

/** What is said of a repaired file that is sent. */
export const ReturnMetadata = SentFile.extend({ clipId: z.uuid() });

/** What was begun and never came whole goes after a week. */
const KEPT_MS = 7 * 24 * 60 * 60_000;

/** Repaired files on their way in: each goes on where it stopped, and is taken up by its clip when it is whole. */
export class ReturnStore extends SyncedStore {
  static async open(storeDir: string, disk: DiskWatch): Promise<ReturnStore> {
    const folder = join(storeDir, 'returns');
    await mkdir(folder, { recursive: true });
    const store = new ReturnStore(folder, disk, KEPT_MS);
    await store.deleteExpired();
    return store;
  }

  /** What has come so far of the files for a clip. */
  async openFor(clipId: string): Promise<OpenUpload[]> {
    const open: OpenUpload[] = [];
    for (const id of (await this.configstore.list?.()) ?? []) {
      const upload = await this.getUpload(id).catch(() => null);
      const said = ReturnMetadata.safeParse(upload?.metadata ?? {});
      if (!upload?.size || !said.success || said.data.clipId !== clipId) continue;
      const { filename: name, lastModified = null } = said.data;
      open.push({ uploadId: id, name, size: upload.size, offset: upload.offset, lastModified });
    }
    return open;
  }

  /**
   * Where a file that is whole is moved to: the same place however often it is asked for.
   * @throws {Problem} when it is another clip's, or has not come whole
   */
  async taken(id: string, clipId: string, clipFolder: string): Promise<string> {
    const note = await this.configstore.get(id).catch(() => undefined);
    const said = ReturnMetadata.safeParse(note?.metadata ?? {});
    if (!note || !said.success || said.data.clipId !== clipId)
      throw new Problem(404, 'There is no such file on its way for this clip. Send it again.');
    const path = join(clipFolder, 'returned', id, plainName(said.data.filename));
    const there = await stat(join(this.folder, id)).catch(() => null);
    if (there?.size === note.size) {
      await mkdir(join(clipFolder, 'returned', id), { recursive: true });
      await moveWhole(join(this.folder, id), path);
    } else if (!(await stat(path).catch(() => null)))
      throw new Problem(
        409,
        `${printable(said.data.filename)}: it has not come whole. Send the same file again: it goes on where it stopped.`,
      );
    return path;
  }

  /** Forgets a file that its clip has. */
  async done(id: string): Promise<void> {
    await this.configstore.delete(id);
  }
}

const plainName = (name: string): string => {
  const plain = basename(name, extname(name))
    .replace(/[^\w .-]/g, '_')
    .slice(0, 120);
  return `${plain || 'repaired'}${endingOf(name)}`;
};
