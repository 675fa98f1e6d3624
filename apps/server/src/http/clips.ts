import { Router, type Request, type Response } from 'express';
import { UpdateClip, type MeasureDocument } from '@bevrin/contract';
import { z } from 'zod';
import type { ClipStore } from '../clips/clips.js';
import type { FrameStore } from '../frames/frames.js';
import type { MeasureQueue } from '../jobs/queue.js';
import type { OpenedVersions } from '../clips/opened-versions.js';
import { FOREVER } from './pictures.js';
import { Problem } from './problem.js';
import type { UploadStore } from '../clips/upload-store.js';

export const clipRoutes = (
  store: ClipStore,
  versions: OpenedVersions,
  queue: MeasureQueue,
  uploads: UploadStore,
): Router =>
  Router()
    .get(
      '/versions/:id',
      async (request, response) => void response.json(await versions.clip(request.params.id)),
    )
    .get('/clips/:id', async (request, response) => void response.json(await store.clip(request.params.id)))
    .patch('/clips/:id', async (request, response) => {
      const { id } = await store.row(request.params.id);
      const { note, noteBefore, specId } = UpdateClip.parse(request.body);
      if (specId !== undefined) await store.changeClipSpec(id, specId);
      if (note !== undefined) await store.writeNote(id, note, noteBefore);
      response.json(await store.told(id));
    })
    .delete('/clips/:id', async (request, response) => {
      const removed = await store.remove(request.params.id);
      if (removed?.version.uploadId) await uploads.forget(removed.version.uploadId);
      response.status(204).end();
    })
    .post('/clips/:id/measure', async (request, response) => {
      const row = await store.row(request.params.id);
      if (row.version.path === null)
        throw new Problem(
          409,
          `${row.name}: the upload is not complete. Drop the same file again: it goes on where it stopped.`,
        );
      if (row.state !== 'queued' && row.state !== 'measuring') await queue.enqueue(row.id, true);
      response.status(202).json(await store.clip(row.id));
    })
    .get('/clips/:id/document.json', async (request, response) => {
      const { measurement, judgement, name } = await store.measuredRow(request.params.id);
      if (!measurement || !judgement) throw new Problem(409, `${name}: it has not been measured yet.`);
      const document: MeasureDocument = { ...measurement, ...judgement };
      response.attachment(`${name}.bevrin.json`).json(document);
    });

/** What is read of a file while somebody looks at it: a clip's, or a version's that goes by its own id. */
export const frameRoutes = (store: ClipStore, frames: FrameStore): Router =>
  Router()
    .get('/clips/:id/series/:defect/:name', async (request, response) => {
      const { id, defect, name } = request.params;
      const { measurementId, name: clip } = await store.row(id);
      const { from, count } = SeriesRange.parse(request.query);
      const values =
        measurementId && (await store.measurements.series(measurementId, defect, name, from, count));
      if (!values) throw new Problem(404, `${clip}: there is no series ${defect}.${name}.`);
      response.json({ measurementId, from, values });
    })
    .get('/clips/:id/strip.jpg', async (request, response) => {
      const { path, of } = await frames.strip(request.params.id);
      response.sendFile(path, { headers: { 'cache-control': cachingFor(request, of) } });
    })
    .get('/clips/:id/frames/:frame.png', async (request, response) => {
      const { id, frame } = request.params;
      const still = await unlessGone(response, (signal) => frames.png(id, frameNumber(frame), signal));
      if (!still) return;
      response.type('png').set('cache-control', cachingFor(request, still.of)).send(still.bytes);
    })
    // What plays will be stopped soon: the exact frame is to be there then.
    .post('/clips/:id/frames/:frame/expect', async (request, response) => {
      response.status(202).end();
      await frames.stored(request.params.id, frameNumber(request.params.frame)).catch(() => undefined);
    })
    .get('/clips/:id/frames/:frame.planes', async (request, response) => {
      const stored = await frames.stored(request.params.id, frameNumber(request.params.frame));
      const caching = cachingFor(request, stored.of);
      response
        .type('application/octet-stream')
        .set({ 'cache-control': caching, 'x-frame-layout': JSON.stringify(stored.layout) })
        .send(stored.bytes);
    });

/** Frames of a series that are asked for: all of them, where it is not said. */
const SeriesRange = z.object({
  from: z.coerce.number().int().nonnegative().default(0),
  count: z.coerce.number().int().positive().max(1_000_000).default(1_000_000),
});

/** What is made of a file may be kept under an address that names the file's content, and under no other. */
const cachingFor = ({ query }: Request, content: string | null): string =>
  content !== null && query.of === content ? FOREVER : 'private, no-cache';

/** @throws {Problem} where a text is no number of a frame */
export const frameNumber = (text: string): number => {
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
