import type { MessagePort } from 'node:worker_threads';
import { Piscina } from 'piscina';
import { threadFile } from '@bevrin/media';

/** Threads of the house: they measure, try treatments, or recheck what came back. */
type ThreadName = 'measure-thread' | 'trial-thread' | 'recheck-thread';

/** Threads of one kind, for one who has work for them. */
export interface Threads {
  /** @throws when the signal, or the end of these threads, cuts the work short */
  run(
    task: unknown,
    how?: { readonly signal?: AbortSignal; readonly transferList?: readonly MessagePort[] },
  ): Promise<unknown>;
  /** Ends what they still do. */
  end(): Promise<void>;
}

interface Pool {
  readonly piscina: Piscina;
  users: number;
}

/** Those that run, by what they begin with, what they are for and how many they are. */
const pools = new Map<string, Pool>();
let kept = false;

/**
 * Threads then outlive who had work for them: for a process that starts one server after another, as tests do. A thread
 * that is new needs some seconds before it is fast.
 */
export const keepThreads = (): void => {
  kept = true;
};

/**
 * Threads that begin with a module of this folder; built ones are looked for now, not when this file is loaded.
 * @param use whoever says the same shares them, and waits for the others
 */
export const threadsFor = (name: ThreadName, use: string, most = 1): Threads => {
  const file = threadFile(new URL(`./${name}.js`, import.meta.url));
  if (!file) throw new Error(`There is no thread "${name}".`);
  const key = `${file.href} ${use} ${most}`;
  const pool = pools.get(key) ?? {
    piscina: new Piscina({ filename: file.href, maxThreads: most, execArgv: [] }),
    users: 0,
  };
  pools.set(key, pool);
  pool.users++;
  const ending = new AbortController();
  return {
    run: (task, { signal, transferList } = {}) =>
      pool.piscina.run(task, {
        signal: signal ? AbortSignal.any([signal, ending.signal]) : ending.signal,
        transferList: transferList as never,
      }),
    end: async () => {
      if (ending.signal.aborted) return;
      ending.abort();
      pool.users--;
      if (pool.users > 0 || kept) return;
      pools.delete(key);
      await pool.piscina.destroy();
    },
  };
};
