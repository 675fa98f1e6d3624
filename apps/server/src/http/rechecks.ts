import { Router } from 'express';
import { ReturnFile, ReturnFolder, SignRecheck, WaiveReason } from '@bevrin/contract';
import { insideMedia } from '../clips/register.js';
import type { AlignedFrames } from '../frames/aligned-frames.js';
import type { ClipStore } from '../clips/clips.js';
import type { FrameStore } from '../frames/frames.js';
import type { PlanStore } from '../plans/plans.js';
import type { ClipFinder } from '../rechecks/find-clips.js';
import { toClipRecheck, type RecheckStore } from '../rechecks/recheck-store.js';
import { actorOf } from './actor.js';
import { frameNumber } from './clips.js';
import { FOREVER } from './pictures.js';
import { Problem } from './problem.js';
import { sendRecheckFile } from './recheck-files.js';

interface Sources {
  readonly rechecks: RecheckStore;
  readonly plans: PlanStore;
  readonly clips: ClipStore;
  readonly frames: FrameStore;
  readonly aligned: AlignedFrames;
  readonly finder: ClipFinder;
}

/** Repaired files that come back, their proof, and what is said of it. */
export const recheckRoutes = (
  { rechecks, plans, clips, aligned, finder }: Omit<Sources, 'frames'>,
  mediaDirs: readonly string[],
): Router =>
  Router()
    .get(
      '/clips/:id/rechecks',
      async (request, response) => void response.json(await rechecks.ofClip(request.params.id)),
    )
    .post('/clips/:id/returns', async (request, response) => {
      const { who = actorOf(request).name, path, upload, ...made } = ReturnFile.parse(request.body);
      const { id } = request.params;
      const taken =
        upload === undefined
          ? await rechecks.add(id, who, await insideMedia(path!, mediaDirs), made)
          : await rechecks.receive(id, who, upload, made);
      response.status(202).json(taken);
    })
    .post('/batches/:id/returns', async (request, response) => {
      const { who, path } = ReturnFolder.parse(request.body);
      const batch = await clips.batch(request.params.id);
      response.status(202).json(await finder.bring(batch.id, who ?? actorOf(request).name, path));
    })
    .post('/rechecks/:id/sign', async (request, response) => {
      const { who, how, reason, assignee } = SignRecheck.parse(request.body);
      const { recheck } = await rechecks.row(request.params.id);
      const { name, ...actor } = actorOf(request);
      const signer = who ?? name;
      // Only what goes back goes to somebody.
      const before = how === 'sentBack' ? (await plans.planOf(recheck.clipId)).decided.assignee : '';
      const to = how === 'sentBack' ? (assignee ?? before) : '';
      const signed = { who: signer, how, reason, ...(to ? { assignee: to } : {}) };
      const done = await rechecks.sign(request.params.id, signed);
      if (to && to !== before)
        await plans.decide(recheck.clipId, { ...actor, name: signer }, { kind: 'assign', to });
      response.json(done);
    })
    .post('/rechecks/:id/waive', async (request, response) => {
      const waive = WaiveReason.parse(request.body);
      response.json(
        await rechecks.waive(request.params.id, { ...waive, who: waive.who ?? actorOf(request).name }),
      );
    })
    .post(
      '/rechecks/:id/again',
      async (request, response) => void response.status(202).json(await rechecks.again(request.params.id)),
    )
    .get(
      '/rechecks/:id/measurement',
      async (request, response) => void response.json(await rechecks.measurementOf(request.params.id)),
    )
    .get('/rechecks/:id/frames/:frame.planes', async (request, response) => {
      const { id, frame } = request.params;
      const { bytes, layout } = await aligned.frame(id, frameNumber(frame));
      response
        .type('application/octet-stream')
        .set({ 'cache-control': FOREVER, 'x-frame-layout': JSON.stringify(layout) })
        .send(bytes);
    });

/** What leaves the house of a recheck, by the name of its file. */
export const recheckFileRoutes = ({
  rechecks,
  clips,
  frames,
  aligned,
}: Pick<Sources, 'rechecks' | 'clips' | 'frames' | 'aligned'>): Router =>
  Router().get('/rechecks/:id/out/:file', async (request, response) => {
    const { id, file } = request.params;
    const of = toClipRecheck(await rechecks.row(id));
    if (!of.recheck) throw new Problem(409, 'It has not been rechecked yet.');
    const { repaired: path } = await rechecks.filesOf(id);
    const batch = await clips.batch((await clips.row(of.clipId)).batchId);
    await sendRecheckFile(file, { of, recheck: of.recheck, path, batch, frames, aligned }, response);
  });
