import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { Router, type Response } from 'express';
import { UpdateClip, type MeasureDocument } from '@bevrin/contract';
import { openSource, probeClip, stillFrame } from '@bevrin/media';
import type { ClipStore } from '../clips.js';
import type { MeasureJobs } from '../jobs.js';
import { Problem } from '../problem.js';

const FOREVER = 'private, max-age=31536000, immutable';

export const clipRoutes = (store: ClipStore, jobs: MeasureJobs): Router =>
  Router()
    .get('/clips/:id', async (request, response) => void response.json(await store.clip(request.params.id)))
    .patch('/clips/:id', async (request, response) => {
      const { id } = await store.row(request.params.id);
      const { note, specId } = UpdateClip.parse(request.body);
      if (specId !== undefined) await store.changeClipSpec(id, specId);
      response.json(await store.change(id, { note: note ?? (await store.row(id)).note }));
    })
    .delete('/clips/:id', async (request, response) => {
      await store.remove(request.params.id);
      response.status(204).end();
    })
    .post('/clips/:id/measure', async (request, response) => {
      const row = await store.row(request.params.id);
      if (row.path === null)
        throw new Problem(
          409,
          `${row.name}: the upload is not complete. Drop the same file again: it goes on where it stopped.`,
        );
      if (row.state !== 'queued' && row.state !== 'measuring') await jobs.enqueue(row.id);
      response.status(202).json(await store.clip(row.id));
    })
    .get('/clips/:id/document.json', async (request, response) => {
      const { measurement, judgement, name } = await store.row(request.params.id);
      if (!measurement || !judgement) throw new Problem(409, `${name}: it has not been measured yet.`);
      const document: MeasureDocument = { ...measurement, ...judgement };
      response.attachment(`${name}.bevrin.json`).json(document);
    })
    .get('/clips/:id/poster.jpg', (request, response) =>
      sendPicture(response, join(store.folderOf(request.params.id), 'poster.jpg')),
    )
    .get('/clips/:id/proxy.mp4', (request, response) =>
      sendPicture(response, join(store.folderOf(request.params.id), 'proxy.mp4')),
    )
    .get('/clips/:id/frames/:frame.png', async (request, response) => {
      const frame = Number(request.params.frame);
      if (!Number.isInteger(frame) || frame < 0)
        throw new Problem(400, 'A frame is named by its number, from 0.');
      const { path, name } = await store.row(request.params.id);
      if (path === null)
        throw new Problem(409, `${name}: the upload is not complete, so there are no frames yet.`);
      const gone = new AbortController();
      response.on('close', () => gone.abort());
      const still = await stillFrame(await probeClip(await openSource(path)), frame, gone.signal).catch(
        (error: unknown) => {
          if (gone.signal.aborted) return null;
          throw error;
        },
      );
      if (still) response.type('png').set('cache-control', FOREVER).send(still);
    });

const sendPicture = (response: Response, path: string): void => {
  if (!existsSync(path)) throw new Problem(404, 'There is no picture of this clip yet.');
  response.sendFile(path, { headers: { 'cache-control': FOREVER } });
};
