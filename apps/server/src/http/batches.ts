import { Router } from 'express';
import { CreateBatch, UpdateBatch, type BatchDetail, type Clip } from '@bevrin/contract';
import type { ClipStore } from '../clips/clips.js';
import type { DiskWatch } from '../clips/disk-watch.js';
import type { FrameStore } from '../frames/frames.js';
import { registerPath } from '../clips/register.js';
import type { MeasureQueue } from '../jobs/queue.js';
import { RegisterPath } from '@bevrin/contract';

export const batchRoutes = (
  store: ClipStore,
  queue: MeasureQueue,
  frames: FrameStore,
  disk: DiskWatch,
  mediaDirs: readonly string[],
): Router => {
  const detail = async (id: string): Promise<BatchDetail> => {
    const batch = await store.batch(id);
    return { batch, spec: await store.specs.find(batch.specId), clips: await store.clipsOf(id) };
  };
  return Router()
    .get('/batches', async (_request, response) => void response.json(await store.batches()))
    .post(
      '/batches',
      async (request, response) =>
        void response.status(201).json(await store.createBatch(CreateBatch.parse(request.body))),
    )
    .get('/batches/:id', async (request, response) => {
      const found = await detail(request.params.id);
      response.json(found);
      const worst = (clip: Clip): number =>
        clip.summary?.findings.reduce((most, f) => Math.max(most, f.severity), 0) ?? -1;
      const bad = found.clips.filter((c) => c.state === 'measured').sort((a, b) => worst(b) - worst(a));
      await frames.lookAhead(bad.map((c) => c.id));
    })
    .get(
      '/batches/:id/truth',
      async (request, response) => void response.json(await store.truthOf(request.params.id)),
    )
    .patch('/batches/:id', async (request, response) => {
      await store.changeSpec(request.params.id, UpdateBatch.parse(request.body).specId);
      response.json(await detail(request.params.id));
    })
    .post('/batches/:id/clips', async (request, response) => {
      const { path } = RegisterPath.parse(request.body);
      disk.mustHaveRoom();
      const batch = await store.batch(request.params.id);
      response.status(201).json({ added: await registerPath(path, batch.id, store, queue, mediaDirs) });
    });
};
