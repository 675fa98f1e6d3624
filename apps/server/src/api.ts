import { existsSync } from 'node:fs';
import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { join } from 'node:path';
import express from 'express';
import type { Logger } from 'pino';
import type { Config } from './config.js';
import { Live } from './events/live.js';
import { AlignedFrames } from './frames/aligned-frames.js';
import { FrameStore } from './frames/frames.js';
import { batchRoutes } from './http/batches.js';
import { clipRoutes, frameRoutes } from './http/clips.js';
import { pictureRoutes } from './http/pictures.js';
import { planRoutes } from './http/plans.js';
import { ClipFinder } from './rechecks/find-clips.js';
import { answerProblems, Problem } from './http/problem.js';
import { recheckFileRoutes, recheckRoutes } from './http/rechecks.js';
import { returnRoutes } from './http/returns.js';
import { reportRoutes } from './http/reports.js';
import { specRoutes } from './http/specs.js';
import { trialRoutes } from './http/trials.js';
import { UploadRoutes } from './http/uploads.js';
import type { Store, Surroundings } from './store.js';

/** A `.cube` table of 65 entries a side is about 8 MB of text. */
const MOST_SENT = '16mb';

/** What answers the pages. */
export interface RunningApi {
  readonly http: Server;
  readonly url: string;
  stop(): Promise<void>;
}

/** The port that was asked for belongs to somebody else. */
export class PortTaken extends Error {
  override readonly name = 'PortTaken';
  constructor(port: number) {
    super(`Port ${port} is taken by another program. Stop it, or choose another port: PORT=${port + 1}.`);
  }
}

/**
 * Serves pages and requests. It measures nothing itself, and knows what other processes do from what they announce.
 * @throws {PortTaken}
 */
export const createApi = async (
  store: Store,
  config: Config,
  log: Logger,
  { uploadIdleMs }: Surroundings = {},
): Promise<RunningApi> => {
  const live = new Live(store.clips, log);
  store.disk.onChange((status) => live.tell({ kind: 'status', status }));
  const uploadRoutes = new UploadRoutes(store.clips, store.uploads, store.disk, log, uploadIdleMs);
  const frames = new FrameStore(store.clips, store.versions, store.pictures, store.trials);
  const aligned = new AlignedFrames(store.rechecks);
  const finder = new ClipFinder(store.rechecks, store.clips, config.mediaDirs);
  const http = createServer(application(config, store, { frames, aligned, finder, live, uploadRoutes, log }));
  // A large file on a slow line takes hours; who falls silent is noticed by the route of the uploads.
  http.requestTimeout = 0;
  const stop = async (): Promise<void> => {
    http.close();
    http.closeAllConnections();
    uploadRoutes.stop();
    frames.stop();
    aligned.stop();
    finder.stop();
    await live.stop();
  };
  try {
    await live.start(store.connection);
    await listen(http, config.port);
    await store.uploads.reconcile(new Set());
  } catch (error) {
    await stop();
    throw error;
  }
  return { http, url: `http://127.0.0.1:${(http.address() as AddressInfo).port}`, stop };
};

const listen = (http: ReturnType<typeof createServer>, port: number): Promise<void> =>
  new Promise((resolve, reject) => {
    http.once('error', (error: NodeJS.ErrnoException) =>
      reject(error.code === 'EADDRINUSE' ? new PortTaken(port) : error),
    );
    http.listen(port, '127.0.0.1', resolve);
  });

/** Stands in for the pages until they are built. It asks again by itself. */
const BEING_BUILT = `<!doctype html><html lang="en"><head><meta charset="utf-8"><meta http-equiv="refresh" content="2">
<title>Bevrin</title></head><body style="font:16px sans-serif;background:#c9c9c9;color:#141414;padding:3rem">
<p>Bevrin runs. Its pages are being built; they come in a moment, by themselves.</p></body></html>`;

interface Parts {
  readonly frames: FrameStore;
  readonly aligned: AlignedFrames;
  readonly finder: ClipFinder;
  readonly live: Live;
  readonly uploadRoutes: UploadRoutes;
  readonly log: Logger;
}

const application = (
  config: Config,
  { clips, versions, plans, queue, pictures, disk, uploads, returns, trials, rechecks }: Store,
  { frames, aligned, finder, live, uploadRoutes, log }: Parts,
): express.Express => {
  const app = express().disable('x-powered-by').disable('etag');
  const api = express
    .Router()
    .use(uploadRoutes.router())
    .use(returnRoutes(returns, clips, disk))
    .use(express.json({ limit: MOST_SENT }))
    .get('/events', live.listen)
    .get('/status', (_request, response) => void response.json(disk.status))
    .use(specRoutes(clips))
    .use(planRoutes(plans, queue))
    .use(trialRoutes(trials, frames))
    .use(recheckRoutes({ rechecks, plans, clips, aligned, finder }, config.mediaDirs))
    .use(recheckFileRoutes({ rechecks, clips, frames, aligned }))
    .use(reportRoutes(plans, { frames, pictures, trials, rechecks, aligned }))
    .use(batchRoutes(clips, queue, frames, disk, config.mediaDirs))
    .use(clipRoutes(clips, versions, queue, uploads))
    .use(frameRoutes(clips, frames))
    .use(pictureRoutes(pictures))
    .use(() => {
      throw new Problem(404, 'There is nothing at this address.');
    });
  app.use('/api', api);
  if (config.webDir) {
    const index = join(config.webDir, 'index.html');
    app.use(express.static(config.webDir, { index: false, maxAge: '1h' }));
    app.get('/{*page}', (_request, response) =>
      existsSync(index) ? response.sendFile(index) : response.type('html').send(BEING_BUILT),
    );
  }
  return app.use(answerProblems(log));
};
