import type { Server } from 'node:http';
import { pino, type Logger } from 'pino';
import { createApi } from './api.js';
import type { Config } from './config.js';
import { createRecheckWorker } from './jobs/recheck-worker.js';
import { createTrialWorker } from './jobs/trial-worker.js';
import { createWorker } from './jobs/worker.js';
import type { Role } from './role.js';
import { createStore, type Store, type Surroundings } from './store.js';

export interface RunningServer {
  readonly store: Store;
  /** `null` where the process only measures. */
  readonly http: Server | null;
  readonly url: string;
  stop(): Promise<void>;
}

/**
 * Puts together what a process does.
 * @throws {PortTaken}
 */
export const startServer = async (
  config: Config,
  log: Logger = pino({ level: 'warn' }),
  surroundings: Surroundings = {},
  role: Role = 'all',
): Promise<RunningServer> => {
  const store = await createStore(config, surroundings);
  const running: { stop(): Promise<void> }[] = [];
  const stop = async (): Promise<void> => {
    for (const part of running) await part.stop();
    await store.close();
  };
  try {
    const api = role === 'worker' ? null : await createApi(store, config, log, surroundings);
    if (api) running.push(api);
    if (role !== 'api') {
      running.push(await createWorker(store, log));
      running.push(await createTrialWorker(store, log));
      running.push(await createRecheckWorker(store, log));
    }
    return { store, http: api?.http ?? null, url: api?.url ?? '', stop };
  } catch (error) {
    await stop();
    throw error;
  }
};
