import { Router } from 'express';
import { SaveSpec } from '@bevrin/contract';
import type { ClipStore } from '../clips/clips.js';
import { specCsv } from '../reports/tables.js';

export const specRoutes = (store: ClipStore): Router =>
  Router()
    .get('/specs', async (_request, response) => void response.json(await store.specs.all()))
    .post('/specs', async (request, response) => {
      const { spec, replaces } = SaveSpec.parse(request.body);
      const saved = await store.specs.save(spec, replaces);
      await store.judgeAgain(saved.id);
      response.status(201).json(saved);
    })
    .get(
      '/specs/:id/versions',
      async (request, response) => void response.json(await store.specs.versions(request.params.id)),
    )
    .get('/specs/:id/versions/:version.json', async (request, response) => {
      const spec = await store.specs.version(request.params.id, Number(request.params.version));
      response.attachment(`${spec.id}-${spec.version}.json`).json(spec);
    })
    .get('/specs/:id/versions/:version.csv', async (request, response) => {
      const spec = await store.specs.version(request.params.id, Number(request.params.version));
      response.attachment(`${spec.id}-${spec.version}.csv`).type('csv').send(specCsv(spec));
    })
    .get('/batches/:id/seen', async (request, response) => {
      const spec = await store.specs.find(String(request.query.spec ?? ''));
      response.json(await store.readingsIn(request.params.id, spec));
    });
