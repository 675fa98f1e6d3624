import { Router } from 'express';
import { CreateBatch, UpdateBatch, type BatchDetail } from '@bevrin/contract';
import type { ClipStore } from '../clips.js';
import { registerPath } from '../register.js';
import type { MeasureJobs } from '../jobs.js';
import { RegisterPath } from '@bevrin/contract';

export const batchRoutes = (store: ClipStore, jobs: MeasureJobs, mediaDirs: readonly string[]): Router => {
  const detail = async (id: string): Promise<BatchDetail> => {
    const batch = await store.batch(id);
    return { batch, spec: store.specs.find(batch.specId), clips: await store.clipsOf(id) };
  };
  return Router()
    .get('/batches', async (_request, response) => void response.json(await store.batches()))
    .post(
      '/batches',
      async (request, response) =>
        void response.status(201).json(await store.createBatch(CreateBatch.parse(request.body))),
    )
    .get('/batches/:id', async (request, response) => void response.json(await detail(request.params.id)))
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
      const batch = await store.batch(request.params.id);
      response.status(201).json({ added: await registerPath(path, batch.id, store, jobs, mediaDirs) });
    });
};
