import { Router } from 'express';
import { AskTrial, type TriableTreatment } from '@bevrin/contract';
import { RUNNERS } from '@bevrin/core';
import type { FrameStore } from '../frames/frames.js';
import type { TrialStore } from '../trials/trial-store.js';
import { actorOf } from './actor.js';
import { frameNumber } from './clips.js';
import { FOREVER } from './pictures.js';
import { Problem } from './problem.js';

export const trialRoutes = (trials: TrialStore, frames: FrameStore): Router =>
  Router()
    .get('/treatments', (_request, response) => {
      const triable: TriableTreatment[] = Object.values(RUNNERS).map(({ treatment, swept, settings }) => ({
        treatment,
        swept,
        settings,
      }));
      response.json(triable);
    })
    .get(
      '/clips/:id/trials',
      async (request, response) => void response.json(await trials.ofClip(request.params.id)),
    )
    .post('/clips/:id/trials', async (request, response) => {
      const { who, ...ask } = AskTrial.parse(request.body);
      response.status(202).json(await trials.ask(request.params.id, who ?? actorOf(request).name, ask));
    })
    .post(
      '/trials/:id/cancel',
      async (request, response) => void response.json(await trials.cancel(request.params.id)),
    )
    .get('/trials/:id/runs/:run/:what/:frame.planes', async (request, response) => {
      const { id, run, frame, what } = request.params;
      const kind = { frames: 'file', masks: 'mask' }[what] as 'file' | 'mask' | undefined;
      if (!kind) throw new Problem(404, 'A run has frames, and some have masks.');
      const { bytes, layout } = await frames.tried(id, frameNumber(run), frameNumber(frame), kind);
      response
        .type('application/octet-stream')
        .set({ 'cache-control': FOREVER, 'x-frame-layout': JSON.stringify(layout) })
        .send(bytes);
    })
    .get('/trials/:id/runs/:run/mesh.json', async (request, response) => {
      const { id, run } = request.params;
      response.sendFile(await frames.mesh(id, frameNumber(run)), { headers: { 'cache-control': FOREVER } });
    });
