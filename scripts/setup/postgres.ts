import { spawn, type ChildProcess } from 'node:child_process';
import { existsSync, mkdirSync, openSync, closeSync, readFileSync, rmSync } from 'node:fs';
import { join, resolve } from 'node:path';
import getPort from 'get-port';
import pg from 'pg';
import { bringToRest, createCluster, optionsFor, USER, type Cluster } from './cluster.js';
import { postgresPrograms } from './debian.mjs';
import { clusterHome, unprivileged } from './state-folder.js';
import { CannotStart } from './stop.js';

export interface RunningPostgres {
  readonly url: string;
  /** The data folder. */
  readonly folder: string;
  stop(): Promise<void>;
}

const START_WITHIN_MS = 30_000;
const ANSWER_WITHIN_MS = 5_000;
const STOP_WITHIN_MS = 10_000;
/** A server that ends by itself is started again at once, then after twice as long each time, at most this long. */
const LONGEST_PAUSE_MS = 30_000;
const FIRST_PAUSE_MS = 250;
/** One that has run this long has recovered. */
const RECOVERED_AFTER_MS = 60_000;

const clusterIn = (folder: string): Cluster => {
  const programs = postgresPrograms();
  if (!programs) throw new CannotStart('PostgreSQL is not installed. Install it: apt-get install postgresql');
  const account = unprivileged();
  const home = clusterHome(resolve(folder), { account });
  return { programs, folder: join(home, 'cluster'), secret: join(home, 'password'), account };
};

/**
 * Starts a PostgreSQL of our own on loopback, on a free port; makes its cluster at the first start. When it ends without
 * having been told to, it is started again on the same port: who is connected finds it again.
 * @param folder holds the cluster, its log and its password
 * @param careless leaves out waiting for the disk, for tests
 * @param say is told when it ended by itself, and how it goes on
 * @throws {CannotStart}
 */
export const startPostgres = async (
  folder: string,
  { careless = false, say = (line: string): void => console.error(line) } = {},
): Promise<RunningPostgres> => {
  const cluster = clusterIn(folder);
  if (existsSync(join(cluster.folder, 'PG_VERSION'))) await bringToRest(cluster);
  else createCluster(cluster);
  mkdirSync(resolve(folder), { recursive: true });
  const log = join(resolve(folder), 'server.log');
  const port = await getPort();
  const url = `postgres://${USER}:${readFileSync(cluster.secret, 'utf8').trim()}@127.0.0.1:${port}/postgres`;
  const supervised = new Supervised(cluster, port, careless, log, url, say);
  await supervised.start();
  return { url, folder: cluster.folder, stop: () => supervised.stop() };
};

/** A server that is started again when it ends by itself. */
class Supervised {
  private server: ChildProcess | null = null;
  private ended: Promise<void> = Promise.resolve();
  private stopping = false;
  private pauseMs = FIRST_PAUSE_MS;

  constructor(
    private readonly cluster: Cluster,
    private readonly port: number,
    private readonly careless: boolean,
    private readonly log: string,
    private readonly url: string,
    private readonly say: (line: string) => void,
  ) {}

  async start(): Promise<void> {
    const settings = {
      port: this.port,
      listen_addresses: '127.0.0.1',
      unix_socket_directories: '',
      ...(this.careless ? { fsync: 'off', synchronous_commit: 'off', full_page_writes: 'off' } : {}),
    };
    const log = openSync(this.log, 'a');
    const server = spawn(
      join(this.cluster.programs, 'postgres'),
      ['-D', this.cluster.folder, ...Object.entries(settings).flatMap(([k, v]) => ['-c', `${k}=${v}`])],
      { ...optionsFor(this.cluster), stdio: ['ignore', log, log], detached: true },
    );
    closeSync(log);
    this.server = server;
    const began = Date.now();
    let ready = false;
    this.ended = new Promise((done) => {
      server.once('error', () => done());
      server.once('exit', (code, signal) => {
        done();
        if (ready && !this.stopping) void this.startAgain(signal ?? `status ${code}`, Date.now() - began);
      });
    });
    const gone = (): boolean => server.exitCode !== null || server.signalCode !== null;
    await untilReady(this.url, gone, this.log);
    ready = true;
    // One that ended between its first answer and now would be started again by nobody.
    if (gone()) throw new CannotStart(`PostgreSQL ended as it started. Its log is ${this.log}.`);
  }

  async stop(): Promise<void> {
    this.stopping = true;
    const { server } = this;
    if (!server) return;
    server.kill('SIGINT'); // a fast shutdown: open sessions are ended
    const killing = setTimeout(() => server.kill('SIGKILL'), STOP_WITHIN_MS);
    await this.ended;
    clearTimeout(killing);
  }

  private async startAgain(how: string, ranMs: number): Promise<void> {
    if (ranMs > RECOVERED_AFTER_MS) this.pauseMs = FIRST_PAUSE_MS;
    while (!this.stopping) {
      this.say(`PostgreSQL ended by itself (${how}); starting it again. Its log is ${this.log}.`);
      await new Promise((done) => setTimeout(done, this.pauseMs));
      if (this.stopping) return;
      this.pauseMs = Math.min(LONGEST_PAUSE_MS, 2 * this.pauseMs);
      try {
        await bringToRest(this.cluster);
        if (this.stopping) return;
        await this.start();
        if (!this.stopping) this.say('PostgreSQL runs again.');
        return;
      } catch (error) {
        how = error instanceof Error ? error.message : String(error);
      }
    }
  }
}

/** Removes a cluster; one that a crash left running is stopped first. */
export const removePostgres = async (folder: string): Promise<void> => {
  if (!existsSync(folder)) return;
  const cluster = clusterIn(folder);
  await bringToRest(cluster);
  rmSync(join(cluster.folder, '..'), { recursive: true, force: true });
  rmSync(folder, { recursive: true, force: true });
};

const untilReady = async (url: string, gone: () => boolean, log: string): Promise<void> => {
  const deadline = Date.now() + START_WITHIN_MS;
  for (;;) {
    // Whoever else has got the port meanwhile may never answer.
    const client = new pg.Client({ connectionString: url, connectionTimeoutMillis: ANSWER_WITHIN_MS });
    // A server that is killed while we speak to it is told by the refusal of the next attempt.
    client.on('error', () => undefined);
    const ready = await client.connect().then(
      () => true,
      () => false,
    );
    await client.end().catch(() => undefined);
    if (ready) return;
    if (gone() || Date.now() > deadline)
      throw new CannotStart(`PostgreSQL did not start. Its log is ${log}: ${lastLine(log)}`);
    await new Promise((done) => setTimeout(done, 100));
  }
};

const lastLine = (path: string): string => readFileSync(path, 'utf8').trim().split('\n').pop() ?? '';
