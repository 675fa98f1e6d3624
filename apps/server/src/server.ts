import { existsSync } from 'node:fs';
import { mkdir } from 'node:fs/promises';
import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { join } from 'node:path';
import express from 'express';
import { pino, type Logger } from 'pino';
import { shippedSpecs } from '@bevrin/media';
import { ClipStore } from './clips/clips.js';
import type { Config } from './config.js';
import { connect } from './database/connect.js';
import { MeasureJobs } from './jobs/jobs.js';
import { Leases } from './jobs/leases.js';
import { FrameStore } from './frames/frames.js';
import { Live } from './http/live.js';
import { answerProblems, Problem } from './http/problem.js';
import { batchRoutes } from './http/batches.js';
import { clipRoutes } from './http/clips.js';
import { planRoutes } from './http/plans.js';
import { reportRoutes } from './http/reports.js';
import { specRoutes } from './http/specs.js';
import { PlanStore } from './plans/plans.js';
import { SpecStore } from './specs/specs.js';
import { UploadRoutes } from './http/uploads.js';
import { UploadStore } from './clips/upload-store.js';
import { DiskWatch } from './clips/disk-watch.js';

/** A `.cube` table of 65 entries a side is about 8 MB of text. */
const MOST_SENT = '16mb';

export interface RunningServer {
  readonly http: Server;
  readonly url: string;
  readonly store: ClipStore;
  readonly jobs: MeasureJobs;
  stop(): Promise<void>;
}

/** The port that was asked for belongs to somebody else. */
export class PortTaken extends Error {
  override readonly name = 'PortTaken';
  constructor(port: number) {
    super(`Port ${port} is taken by another program. Stop it, or choose another port: PORT=${port + 1}.`);
  }
}

/** What a test puts in the place of the machine's own. */
export interface Surroundings {
  /** Free bytes on the disk of a folder. */
  readonly freeBytes?: (folder: string) => Promise<number>;
  /** A sender of whom nothing was heard for so long has gone. */
  readonly uploadIdleMs?: number;
}

/**
 * Connects to the database, takes up unfinished measurements and serves.
 * @throws {PortTaken}
 */
export const startServer = async (
  config: Config,
  log: Logger = pino({ level: 'warn' }),
  { freeBytes, uploadIdleMs }: Surroundings = {},
): Promise<RunningServer> => {
  await mkdir(config.storeDir, { recursive: true });
  const connection = await connect(config.databaseUrl);
  const { database, close } = connection;
  const live = new Live();
  const disk = new DiskWatch(config.storeDir, config.reserveBytes, freeBytes);
  disk.onChange((status) => live.tell({ kind: 'status', status }));
  await disk.start();
  const specs = await SpecStore.open(database, (await shippedSpecs()).values());
  const store = new ClipStore(database, live, specs, config.storeDir);
  await store.judgeUnlisted();
  const jobs = new MeasureJobs(connection, store, new Leases(database, store), disk, log);
  const uploads = await UploadStore.open(config.storeDir, store, jobs, disk);
  const uploadRoutes = new UploadRoutes(store, uploads, disk, log, uploadIdleMs);
  const frames = new FrameStore(store);
  const http = createServer(
    application(config, {
      store,
      plans: new PlanStore(database, store),
      jobs,
      frames,
      live,
      disk,
      uploads,
      uploadRoutes,
      log,
    }),
  );
  // A large file on a slow line takes hours; who falls silent is noticed by the route of the uploads.
  http.requestTimeout = 0;
  const stop = async (): Promise<void> => {
    http.close();
    http.closeAllConnections();
    disk.stop();
    uploadRoutes.stop();
    frames.stop();
    await jobs.stop();
    await close();
  };
  try {
    await listen(http, config.port);
    await jobs.start();
    await uploads.reconcile(new Set());
  } catch (error) {
    await stop();
    throw error;
  }
  return {
    http,
    url: `http://127.0.0.1:${(http.address() as AddressInfo).port}`,
    store,
    jobs,
    stop,
  };
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
  readonly store: ClipStore;
  readonly plans: PlanStore;
  readonly jobs: MeasureJobs;
  readonly frames: FrameStore;
  readonly live: Live;
  readonly disk: DiskWatch;
  readonly uploads: UploadStore;
  readonly uploadRoutes: UploadRoutes;
  readonly log: Logger;
}

const application = (
  config: Config,
  { store, plans, jobs, frames, live, disk, uploads, uploadRoutes, log }: Parts,
): express.Express => {
  const app = express().disable('x-powered-by').disable('etag');
  const api = express
    .Router()
    .use(uploadRoutes.router())
    .use(express.json({ limit: MOST_SENT }))
    .get('/events', live.listen)
    .get('/status', (_request, response) => void response.json(disk.status))
    .use(specRoutes(store))
    .use(planRoutes(plans, jobs))
    .use(reportRoutes(store, plans, frames))
    .use(batchRoutes(store, jobs, frames, disk, config.mediaDirs))
    .use(clipRoutes(store, jobs, frames, uploads))
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
