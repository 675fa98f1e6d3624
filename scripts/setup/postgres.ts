import { spawn, spawnSync, type SpawnOptions } from 'node:child_process';
import { randomBytes, createHash } from 'node:crypto';
import { chownSync, existsSync, mkdirSync, openSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import getPort from 'get-port';
import pg from 'pg';
import { postgresPrograms } from './debian.js';
import { CannotStart } from './stop.js';

export interface RunningPostgres {
  readonly url: string;
  stop(): Promise<void>;
}

interface Account {
  readonly uid: number;
  readonly gid: number;
}

const USER = 'bevrin';
const START_WITHIN_MS = 30_000;
const STOP_WITHIN_MS = 10_000;

/** PostgreSQL refuses to run as root: then it runs under the account that its package made. */
const unprivileged = (): Account | null => {
  if (process.getuid?.() !== 0) return null;
  const line =
    readFileSync('/etc/passwd', 'utf8')
      .split('\n')
      .find((l) => l.startsWith('postgres:')) ??
    readFileSync('/etc/passwd', 'utf8')
      .split('\n')
      .find((l) => l.startsWith('nobody:'));
  if (!line)
    throw new CannotStart(
      'PostgreSQL must not run as root, and there is no account "postgres" to run it under.',
    );
  const [, , uid, gid] = line.split(':').map(Number);
  return { uid, gid };
};

/** Where the data lie: in the wanted folder, or, when the account may not enter it, in one of the machine's own. */
const clusterFolder = (wanted: string, account: Account | null): string => {
  mkdirSync(wanted, { recursive: true });
  if (!account) return wanted;
  chownSync(wanted, account.uid, account.gid);
  if (spawnSync('test', ['-w', wanted], { ...account }).status === 0) return wanted;
  const elsewhere = join(
    tmpdir(),
    `bevrin-${createHash('sha256').update(wanted).digest('hex').slice(0, 12)}`,
  );
  mkdirSync(elsewhere, { recursive: true });
  chownSync(elsewhere, account.uid, account.gid);
  console.log(`PostgreSQL's account may not enter ${wanted}; its data go to ${elsewhere}.`);
  return elsewhere;
};

/**
 * Starts a PostgreSQL of our own on loopback, on a free port; makes its cluster at the first start.
 * @param folder holds the cluster, its log and its password
 * @param careless leaves out waiting for the disk, for tests
 * @throws {CannotStart}
 */
export const startPostgres = async (folder: string, { careless = false } = {}): Promise<RunningPostgres> => {
  const programs = postgresPrograms();
  if (!programs) throw new CannotStart('PostgreSQL is not installed. Install it: apt-get install postgresql');
  const account = unprivileged();
  const home = clusterFolder(resolve(folder), account);
  const cluster = join(home, 'cluster');
  const options: SpawnOptions = { ...account, cwd: home };
  const secret = join(home, 'password');
  if (!existsSync(join(cluster, 'PG_VERSION'))) create(programs, cluster, secret, options, account);
  else await stopLeftOver(cluster);
  const port = await getPort();
  const log = openSync(join(resolve(folder), 'server.log'), 'a');
  const settings = {
    port,
    listen_addresses: '127.0.0.1',
    unix_socket_directories: '',
    ...(careless ? { fsync: 'off', synchronous_commit: 'off', full_page_writes: 'off' } : {}),
  };
  const server = spawn(
    join(programs, 'postgres'),
    ['-D', cluster, ...Object.entries(settings).flatMap(([k, v]) => ['-c', `${k}=${v}`])],
    { ...options, stdio: ['ignore', log, log], detached: true },
  );
  const url = `postgres://${USER}:${readFileSync(secret, 'utf8').trim()}@127.0.0.1:${port}/postgres`;
  const ended = new Promise<void>((done) => server.once('exit', () => done()));
  await untilReady(url, () => server.exitCode !== null, join(resolve(folder), 'server.log'));
  return {
    url,
    stop: async () => {
      server.kill('SIGINT'); // a fast shutdown: open sessions are ended
      const killing = setTimeout(() => server.kill('SIGKILL'), STOP_WITHIN_MS);
      await ended;
      clearTimeout(killing);
    },
  };
};

/** Removes a cluster; one that a crash left running is stopped first. */
export const removePostgres = async (folder: string): Promise<void> => {
  if (!existsSync(folder)) return;
  const home = clusterFolder(resolve(folder), unprivileged());
  await stopLeftOver(join(home, 'cluster'));
  rmSync(home, { recursive: true, force: true });
  rmSync(folder, { recursive: true, force: true });
};

/** A process that has ended but that nobody has asked after yet does not run. */
const runsPostgres = (pid: number): boolean => {
  try {
    // One that is just ending has no command line any more, but still its name.
    const state = readFileSync(`/proc/${pid}/stat`, 'utf8');
    return state.includes('(postgres)') && !/\) Z /.test(state);
  } catch {
    return false;
  }
};

const stopLeftOver = async (cluster: string): Promise<void> => {
  const note = join(cluster, 'postmaster.pid');
  const pid = existsSync(note) ? Number(readFileSync(note, 'utf8').split('\n')[0]) : 0;
  if (!pid) return;
  if (runsPostgres(pid)) await stopServer(pid);
  // What has ended may not have been asked after yet; its note would keep the next server from starting.
  rmSync(note, { force: true });
};

const stopServer = async (pid: number): Promise<void> => {
  process.kill(pid, 'SIGINT'); // a fast shutdown
  const deadline = Date.now() + STOP_WITHIN_MS;
  while (runsPostgres(pid)) {
    if (Date.now() > deadline) process.kill(pid, 'SIGKILL');
    await new Promise((done) => setTimeout(done, 100));
  }
};

const create = (
  programs: string,
  cluster: string,
  secret: string,
  options: SpawnOptions,
  account: Account | null,
): void => {
  rmSync(cluster, { recursive: true, force: true });
  writeFileSync(secret, `${randomBytes(18).toString('base64url')}\n`, { mode: 0o600 });
  if (account) chownSync(secret, account.uid, account.gid);
  const made = spawnSync(
    join(programs, 'initdb'),
    [
      '-D',
      cluster,
      '-U',
      USER,
      '--pwfile',
      secret,
      '--auth',
      'scram-sha-256',
      '--encoding',
      'UTF8',
      '--locale',
      'C.UTF-8',
    ],
    { ...options, encoding: 'utf8' },
  );
  if (made.status !== 0) {
    rmSync(cluster, { recursive: true, force: true });
    throw new CannotStart(
      `PostgreSQL could not make its cluster: ${made.stderr.trim() || made.error?.message}`,
    );
  }
};

const untilReady = async (url: string, gone: () => boolean, log: string): Promise<void> => {
  const deadline = Date.now() + START_WITHIN_MS;
  for (;;) {
    const client = new pg.Client({ connectionString: url });
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
