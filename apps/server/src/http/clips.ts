import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { Router, type Response } from 'express';
import { UpdateClip, type MeasureDocument } from '@bevrin/contract';
import { z } from 'zod';
import { NO_SUCH_CLIP, type ClipStore } from '../clips/clips.js';
import type { FrameStore } from '../frames/frames.js';
import type { MeasureJobs } from '../jobs/jobs.js';
import { Problem } from './problem.js';
import type { UploadStore } from '../clips/upload-store.js';

const FOREVER = 'private, max-age=31536000, immutable';

export const clipRoutes = (
  store: ClipStore,
  jobs: MeasureJobs,
  frames: FrameStore,
  uploads: UploadStore,
): Router =>
  Router()
    .get('/clips/:id', async (request, response) => void response.json(await store.clip(request.params.id)))
    .patch('/clips/:id', async (request, response) => {
      const { id } = await store.row(request.params.id);
      const { note, noteBefore, specId } = UpdateClip.parse(request.body);
      if (specId !== undefined) await store.changeClipSpec(id, specId);
      if (note !== undefined) await store.writeNote(id, note, noteBefore);
      response.json(await store.tellAgain(id));
    })
    .delete('/clips/:id', async (request, response) => {
      const removed = await store.remove(request.params.id);
      if (removed?.uploadId) await uploads.forget(removed.uploadId);
      response.status(204).end();
    })
    .post('/clips/:id/measure', async (request, response) => {
      const row = await store.row(request.params.id);
      if (row.path === null)
        throw new Problem(
          409,
          `${row.name}: the upload is not complete. Drop the same file again: it goes on where it stopped.`,
        );
      if (row.state !== 'queued' && row.state !== 'measuring') await jobs.enqueue(row.id, true);
      response.status(202).json(await store.clip(row.id));
    })
    .get('/clips/:id/document.json', async (request, response) => {
      const { measurement, judgement, name } = await store.row(request.params.id);
      if (!measurement || !judgement) throw new Problem(409, `${name}: it has not been measured yet.`);
      const document: MeasureDocument = { ...measurement, ...judgement };
      response.attachment(`${name}.bevrin.json`).json(document);
    })
    .get('/clips/:id/poster.jpg', (request, response) =>
      sendPicture(response, join(store.folderOf(clipId(request.params.id)), 'poster.jpg')),
    )
    .get('/clips/:id/proxy.mp4', (request, response) =>
      sendPicture(response, join(store.folderOf(clipId(request.params.id)), 'proxy.mp4')),
    )
    .get('/clips/:id/strip.jpg', async (request, response) =>
      sendPicture(response, await frames.strip(request.params.id)),
    )
    .get('/clips/:id/frames/:frame.png', async (request, response) => {
      const still = await unlessGone(response, (signal) =>
        frames.png(request.params.id, frameNumber(request.params.frame), signal),
      );
      if (still) response.type('png').set('cache-control', FOREVER).send(still);
    })
    // What plays will be stopped soon: the exact frame is to be there then.
    .post('/clips/:id/frames/:frame/expect', async (request, response) => {
      response.status(202).end();
      await frames.stored(request.params.id, frameNumber(request.params.frame)).catch(() => undefined);
    })
    .get('/clips/:id/frames/:frame.planes', async (request, response) => {
      const stored = await frames.stored(request.params.id, frameNumber(request.params.frame));
      response
        .type('application/octet-stream')
        .set({ 'cache-control': FOREVER, 'x-frame-layout': JSON.stringify(stored.layout) })
        .send(stored.bytes);
    });

/** An id that becomes part of a path. */
const clipId = (text: string): string => {
  if (!z.uuid().safeParse(text).success) throw NO_SUCH_CLIP();
  return text;
};

const frameNumber = (text: string): number => {
  const frame = Number(text);
  if (!Number.isInteger(frame) || frame < 0)
    throw new Problem(400, 'A frame is named by its number, from 0.');
  return frame;
};

/** Stops work for an answer that nobody waits for any more. */
const unlessGone = async <T>(
  response: Response,
  work: (signal: AbortSignal) => Promise<T>,
): Promise<T | null> => {
  const gone = new AbortController();
  response.on('close', () => gone.abort());
  return work(gone.signal).catch((error: unknown) => {
    if (gone.signal.aborted) return null;
    throw error;
  });
};

const sendPicture = (response: Response, path: string): void => {
  if (!existsSync(path)) throw new Problem(404, 'There is no picture of this clip yet.');
  response.sendFile(path, { headers: { 'cache-control': FOREVER } });
};
