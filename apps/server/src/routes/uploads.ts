import { mkdir, rename } from 'node:fs/promises';
import { extname, join } from 'node:path';
import { FileStore } from '@tus/file-store';
import { EVENTS, Server } from '@tus/server';
import { Router } from 'express';
import { z } from 'zod';
import { printable } from '@bevrin/media';
import type { ClipStore } from '../clips.js';
import type { MeasureJobs } from '../jobs.js';

const Metadata = z.object({ batchId: z.uuid(), filename: z.string().min(1).max(1000) });
const TELL_EVERY_MS = 500;

const refusal = (status: number, message: string): { status_code: number; body: string } => ({
  status_code: status,
  body: JSON.stringify({ error: message }),
});

/**
 * Uploads in the open resumable protocol tus 1.0: written to disk as they come, and taken up again where they
 * stopped.
 */
export const uploadRoutes = async (
  store: ClipStore,
  jobs: MeasureJobs,
  storeDir: string,
): Promise<Router> => {
  const directory = join(storeDir, 'uploads');
  await mkdir(directory, { recursive: true });
  const tus = new Server({
    path: '/api/uploads',
    relativeLocation: true,
    datastore: new FileStore({ directory }),
    postReceiveInterval: TELL_EVERY_MS,
    onUploadCreate: async (_request, upload) => {
      const metadata = Metadata.safeParse(upload.metadata ?? {});
      if (!metadata.success) throw refusal(400, 'The upload does not say which batch and file it is.');
      const { batchId, filename } = metadata.data;
      if (upload.size === 0)
        throw refusal(
          422,
          `${printable(filename)}: the file is empty (0 bytes). Ask the sender for it again.`,
        );
      await store.batch(batchId).catch(() => {
        throw refusal(404, 'There is no such batch.');
      });
      await store.add({ batchId, name: filename, uploadId: upload.id, state: 'receiving' });
      return {};
    },
    onUploadFinish: async (_request, upload) => {
      const row = await store.rowOfUpload(upload.id);
      if (!row) throw refusal(410, 'The clip was removed while it was sent.');
      const folder = store.folderOf(row.id);
      await mkdir(folder, { recursive: true });
      const ending = /^\.[A-Za-z0-9]{1,8}$/.test(extname(row.name)) ? extname(row.name) : '';
      const path = join(folder, `original${ending}`);
      await rename(join(directory, upload.id), path);
      await store.change(row.id, { path });
      await jobs.enqueue(row.id);
      return {};
    },
  });
  tus.on(EVENTS.POST_RECEIVE, async (_request, upload) => {
    const row = await store.rowOfUpload(upload.id);
    if (row && row.path === null)
      await store.change(row.id, {
        state: 'receiving',
        error: null,
        progress: Math.min(1, upload.offset / (upload.size ?? Infinity)),
      });
  });
  const interrupted = async (uploadId: string): Promise<void> => {
    const row = await store.rowOfUpload(uploadId);
    if (!row || row.path !== null) return;
    const percent = Math.round(row.progress * 100);
    await store.change(row.id, {
      state: 'interrupted',
      error: `${row.name}: the upload was cut off at about ${percent} %. Drop the same file again: it goes on where it stopped.`,
    });
  };
  return Router().all('/uploads{/*rest}', (request, response, next) => {
    const uploadId = request.path.split('/').pop() ?? '';
    response.on('close', () => {
      if (request.method === 'PATCH' && !response.writableFinished) interrupted(uploadId).catch(next);
    });
    tus.handle(request, response).catch(next);
  });
};
