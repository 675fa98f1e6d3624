import { mkdir, readdir, rm, stat } from 'node:fs/promises';
import { join } from 'node:path';
import { z } from 'zod';
import type { OpenUpload, UnclaimedUpload } from '@bevrin/contract';
import { printable } from '@bevrin/contract';
import type { ClipRow } from './clip-rows.js';
import type { ClipStore } from './clips.js';
import type { DiskWatch } from './disk-watch.js';
import { endingOf, moveWhole } from './files.js';
import { SentFile, SyncedStore } from './synced-store.js';
import type { MeasureQueue } from '../jobs/queue.js';
import { Problem } from '../http/problem.js';

export const UploadMetadata = SentFile.extend({ batchId: z.uuid() });

/** What the store of an upload notes beside its bytes. */
const NOTE_ENDING = '.json';

/** The files of new clips on their way in. One that is complete is adopted by its clip, however the request that completed it ended. */
export class UploadStore extends SyncedStore {
  private readonly adopting = new Map<string, Promise<void>>();

  private constructor(
    folder: string,
    private readonly clips: ClipStore,
    private readonly queue: MeasureQueue,
    disk: DiskWatch,
  ) {
    super(folder, disk);
  }

  static async open(
    storeDir: string,
    clips: ClipStore,
    queue: MeasureQueue,
    disk: DiskWatch,
  ): Promise<UploadStore> {
    const folder = join(storeDir, 'uploads');
    await mkdir(folder, { recursive: true });
    return new UploadStore(folder, clips, queue, disk);
  }

  /**
   * Makes a complete upload the file of its clip, once, whoever asks.
   * @returns whether the clip has its file
   */
  async adoptIfComplete(id: string): Promise<boolean> {
    const row = await this.clips.rowOfUpload(id);
    if (!row) return false;
    if (row.version.path !== null) return true;
    const upload = await this.getUpload(id).catch(() => null);
    const ready = upload === null ? await this.alreadyMoved(row, id) : upload.offset === upload.size;
    if (!ready) return false;
    const under = this.adopting.get(id) ?? this.adopt(row, id).finally(() => this.adopting.delete(id));
    this.adopting.set(id, under);
    await under;
    return true;
  }

  private pathFor({ id, name }: ClipRow): string {
    return join(this.clips.folderOf(id), `original${endingOf(name)}`);
  }

  /** Whether a crash came between moving the file and writing down where it is. */
  private async alreadyMoved(row: ClipRow, id: string): Promise<boolean> {
    const [note, moved] = await Promise.all([
      this.configstore.get(id).catch(() => undefined),
      stat(this.pathFor(row)).catch(() => null),
    ]);
    return moved !== null && note?.size === moved.size;
  }

  private async adopt(row: ClipRow, id: string): Promise<void> {
    const path = this.pathFor(row);
    await mkdir(this.clips.folderOf(row.id), { recursive: true });
    const there = await stat(join(this.folder, id)).catch(() => null);
    if (there) await moveWhole(join(this.folder, id), path);
    await this.clips.changeVersion(row.version, { path });
    await this.queue.enqueue(row.id);
    await this.configstore.delete(id);
  }

  /**
   * Sets the files that are there against the clips: what is complete is adopted, what is half there says how it goes on.
   * @param active uploads that come in at this moment
   */
  async reconcile(active: ReadonlySet<string>): Promise<void> {
    for (const row of await this.clips.incomplete()) {
      const id = row.version.uploadId!;
      if (active.has(id) || (await this.adoptIfComplete(id)) || row.state === 'interrupted') continue;
      await this.interrupted(row);
    }
  }

  /** Says that an upload has stopped, how far it had come, and how it goes on. */
  async interrupted(row: ClipRow): Promise<void> {
    const upload = await this.getUpload(row.version.uploadId!).catch(() => null);
    const share = upload?.size ? upload.offset / upload.size : 0;
    await this.clips.change(row.id, {
      state: 'interrupted',
      progress: share,
      error: `${row.name}: the upload was cut off at about ${Math.round(100 * share)} %. Drop the same file again: it goes on where it stopped.`,
    });
  }

  /** The uploads of a batch that are not complete. */
  async openIn(batchId: string): Promise<OpenUpload[]> {
    const open: OpenUpload[] = [];
    for (const row of await this.clips.incomplete()) {
      if (row.batchId !== batchId || row.version.uploadId === null) continue;
      const upload = await this.getUpload(row.version.uploadId).catch(() => null);
      if (!upload?.size) continue;
      const { data } = UploadMetadata.safeParse(upload.metadata ?? {});
      open.push({
        uploadId: upload.id,
        name: data?.filename ?? row.name,
        size: upload.size,
        offset: upload.offset,
        lastModified: data?.lastModified ?? null,
      });
    }
    return open;
  }

  /** A clip of this batch that waits for the very same file, and that nobody is sending. */
  async clipWaitingFor(
    { batchId, filename, lastModified }: z.infer<typeof UploadMetadata>,
    size: number | undefined,
    active: ReadonlySet<string>,
  ): Promise<ClipRow | null> {
    for (const row of await this.clips.incomplete()) {
      if (row.batchId !== batchId || row.name !== printable(filename) || active.has(row.version.uploadId!))
        continue;
      const note = await this.configstore.get(row.version.uploadId!).catch(() => undefined);
      const known = UploadMetadata.safeParse(note?.metadata ?? {}).data;
      // Of one whose notes were never written nothing has come.
      if (!note || (note.size === size && known?.lastModified === lastModified)) return row;
    }
    return null;
  }

  /** Files that belong to no clip. */
  async unclaimed(): Promise<UnclaimedUpload[]> {
    const found: UnclaimedUpload[] = [];
    for (const id of (await readdir(this.folder)).filter((n) => !n.endsWith(NOTE_ENDING))) {
      if (await this.clips.rowOfUpload(id)) continue;
      const file = await stat(join(this.folder, id)).catch(() => null);
      if (!file?.isFile()) continue;
      const note = await this.configstore.get(id).catch(() => undefined);
      const name = UploadMetadata.safeParse(note?.metadata ?? {}).data?.filename;
      found.push({
        uploadId: id,
        name: name === undefined ? null : printable(name),
        bytes: file.size,
        at: file.mtime.toISOString(),
      });
    }
    return found.sort((a, b) => (a.at < b.at ? 1 : -1));
  }

  /** @throws {Problem} when it belongs to a clip, or is not there */
  async discard(id: string): Promise<void> {
    if (!(await this.unclaimed()).some((u) => u.uploadId === id))
      throw new Problem(404, 'There is no such file, or it belongs to a clip.');
    await this.forget(id);
  }

  /** Removes what is there of an upload. */
  async forget(id: string): Promise<void> {
    await rm(join(this.folder, id), { force: true });
    await rm(join(this.folder, `${id}${NOTE_ENDING}`), { force: true });
  }
}
