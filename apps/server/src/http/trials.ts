import { Router } from 'express';
import { AskTrial, type TriableTreatment } from '@bevrin/contract';
import { RUNNERS } from '@bevrin/core';
import type { FrameStore } from '../frames/frames.js';
import type { TrialStore } from '../trials/trial-store.js';
import { actorOf } from './actor.js';
import { frameNumber } from './clips.js';
import { FOREVER } from './pictures.js';

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
    .get('/trials/:id/runs/:run/frames/:frame.planes', async (request, response) => {
      const { id, run, frame } = request.params;
      const { bytes, layout } = await frames.tried(id, frameNumber(run), frameNumber(frame));
      response
        .type('application/octet-stream')
        .set({ 'cache-control': FOREVER, 'x-frame-layout': JSON.stringify(layout) })
        .send(bytes);
    });
