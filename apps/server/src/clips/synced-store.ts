import { createWriteStream } from 'node:fs';
import { join } from 'node:path';
import { Transform, type Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { FileStore } from '@tus/file-store';
import type { Upload } from '@tus/server';
import { z } from 'zod';
import { codeOf, Problem } from '../http/problem.js';
import type { DiskWatch } from './disk-watch.js';
import { syncToDisk } from './files.js';

/** What is said of a file that is sent. */
export const SentFile = z.object({
  filename: z.string().min(1).max(1000),
  /** When the sender's file was last changed, ms since 1970. */
  lastModified: z.coerce.number().optional(),
});

/** Files on their way in. What an answer says has come is on the disk, and not only in memory. */
export class SyncedStore extends FileStore {
  constructor(
    protected readonly folder: string,
    protected readonly disk: DiskWatch,
    expirationPeriodInMilliseconds = 0,
  ) {
    super({ directory: folder, expirationPeriodInMilliseconds });
  }

  override async create(upload: Upload): Promise<Upload> {
    const made = await super.create(upload);
    await syncToDisk(this.folder);
    return made;
  }

  override async write(readable: Readable, id: string, offset: number): Promise<number> {
    const path = join(this.folder, id);
    const file = createWriteStream(path, { flags: 'r+', start: offset });
    let received = 0;
    const counted = new Transform({
      transform: (chunk: Buffer, _encoding, done) => {
        received += chunk.length;
        done(this.disk.paused ? new Problem(507, this.disk.sentence()) : null, chunk);
      },
    });
    try {
      await pipeline(readable, counted, file);
    } catch (error) {
      if (codeOf(error) === 'ENOSPC') await this.disk.look();
      throw error;
    }
    await syncToDisk(path);
    return offset + received;
  }
}
