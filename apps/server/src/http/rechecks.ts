import { Router } from 'express';
import { ReturnFile, SignRecheck } from '@bevrin/contract';
import { z } from 'zod';
import { insideMedia } from '../clips/register.js';
import type { AlignedFrames } from '../frames/aligned-frames.js';
import type { RecheckStore } from '../rechecks/recheck-store.js';
import { actorOf } from './actor.js';
import { frameNumber } from './clips.js';
import { FOREVER } from './pictures.js';
import { Problem } from './problem.js';

const Sent = z.object({
  name: z.string().min(1).max(1000),
  who: z.string().trim().max(80).optional(),
});

/** Repaired files that come back, their proof, and what is said of it. */
export const recheckRoutes = (
  rechecks: RecheckStore,
  frames: AlignedFrames,
  mediaDirs: readonly string[],
): Router =>
  Router()
    .get(
      '/clips/:id/rechecks',
      async (request, response) => void response.json(await rechecks.ofClip(request.params.id)),
    )
    .post('/clips/:id/returns', async (request, response) => {
      const { who, path } = ReturnFile.parse(request.body);
      const real = await insideMedia(path, mediaDirs);
      response.status(202).json(await rechecks.add(request.params.id, who ?? actorOf(request).name, real));
    })
    .post('/rechecks/:id/sign', async (request, response) => {
      const { who, how, reason } = SignRecheck.parse(request.body);
      response.json(
        await rechecks.sign(request.params.id, { who: who ?? actorOf(request).name, how, reason }),
      );
    })
    .post(
      '/rechecks/:id/again',
      async (request, response) => void response.status(202).json(await rechecks.again(request.params.id)),
    )
    .get('/rechecks/:id/recheck.json', async (request, response) => {
      const { recheck: row, version } = await rechecks.row(request.params.id);
      if (!row.recheck) throw new Problem(409, 'It has not been rechecked yet.');
      response.attachment(`${row.recheck.original}.v${version.number}.recheck.json`).json(row.recheck);
    })
    .get('/rechecks/:id/frames/:frame.planes', async (request, response) => {
      const { id, frame } = request.params;
      const { bytes, layout } = await frames.frame(id, frameNumber(frame));
      response
        .type('application/octet-stream')
        .set({ 'cache-control': FOREVER, 'x-frame-layout': JSON.stringify(layout) })
        .send(bytes);
    });

/** Repaired files that are sent: their bytes are the request. */
export const returnRoutes = (rechecks: RecheckStore): Router =>
  Router().put('/clips/:id/returns', async (request, response) => {
    const { name, who } = Sent.parse(request.query);
    response
      .status(202)
      .json(await rechecks.receive(request.params.id, who ?? actorOf(request).name, name, request));
  });
