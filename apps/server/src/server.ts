import { mkdir } from 'node:fs/promises';
import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { join } from 'node:path';
import express from 'express';
import { pino, type Logger } from 'pino';
import { shippedSpecs } from '@bevrin/media';
import { ClipStore } from './clips.js';
import type { Config } from './config.js';
import { connect } from './database/connect.js';
import { MeasureJobs } from './jobs.js';
import { FrameStore } from './frames.js';
import { Live } from './live.js';
import { answerProblems, Problem } from './problem.js';
import { batchRoutes } from './routes/batches.js';
import { clipRoutes } from './routes/clips.js';
import { planRoutes } from './routes/plans.js';
import { reportRoutes } from './routes/reports.js';
import { specRoutes } from './routes/specs.js';
import { PlanStore } from './plans.js';
import { SpecStore } from './specs.js';
import { uploadRoutes } from './routes/uploads.js';

/** A `.cube` table of 65 entries a side is about 8 MB of text. */
const MOST_SENT = '16mb';

export interface RunningServer {
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

/**
 * Connects to the database, takes up unfinished measurements and serves.
 * @throws {PortTaken}
 */
export const startServer = async (
  config: Config,
  log: Logger = pino({ level: 'warn' }),
): Promise<RunningServer> => {
  await mkdir(config.storeDir, { recursive: true });
  const { database, close } = await connect(config.databaseUrl);
  const live = new Live();
  const specs = await SpecStore.open(database, (await shippedSpecs()).values());
  const store = new ClipStore(database, live, specs, config.storeDir);
  await store.judgeUnlisted();
  const jobs = new MeasureJobs(config.databaseUrl, store, log);
  const plans = new PlanStore(database, store);
  const frames = new FrameStore(store);
  const http = createServer(await application(config, store, plans, jobs, frames, live, log));
  try {
    await listen(http, config.port);
    await jobs.start();
  } catch (error) {
    http.close();
    await close();
    throw error;
  }
  return {
    url: `http://127.0.0.1:${(http.address() as AddressInfo).port}`,
    store,
    jobs,
    stop: async () => {
      http.close();
      http.closeAllConnections();
      frames.stop();
      await jobs.stop();
      await close();
    },
  };
};

const listen = (http: ReturnType<typeof createServer>, port: number): Promise<void> =>
  new Promise((resolve, reject) => {
    http.once('error', (error: NodeJS.ErrnoException) =>
      reject(error.code === 'EADDRINUSE' ? new PortTaken(port) : error),
    );
    http.listen(port, '127.0.0.1', resolve);
  });

const application = async (
  config: Config,
  store: ClipStore,
  plans: PlanStore,
  jobs: MeasureJobs,
  frames: FrameStore,
  live: Live,
  log: Logger,
): Promise<express.Express> => {
  const app = express().disable('x-powered-by').disable('etag');
  const api = express
    .Router()
    .use(await uploadRoutes(store, jobs, config.storeDir))
    .use(express.json({ limit: MOST_SENT }))
    .get('/events', live.listen)
    .use(specRoutes(store))
    .use(planRoutes(plans, jobs))
    .use(reportRoutes(store, plans, frames))
    .use(batchRoutes(store, jobs, frames, config.mediaDirs))
    .use(clipRoutes(store, jobs, frames))
    .use(() => {
      throw new Problem(404, 'There is nothing at this address.');
    });
  app.use('/api', api);
  if (config.webDir) {
    const index = join(config.webDir, 'index.html');
    app.use(express.static(config.webDir, { index: false, maxAge: '1h' }));
    app.get('/{*page}', (_request, response) => response.sendFile(index));
  }
  return app.use(answerProblems(log));
};
