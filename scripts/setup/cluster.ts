import { spawnSync, type SpawnOptions } from 'node:child_process';
import { randomBytes } from 'node:crypto';
import {
  chownSync,
  existsSync,
  readFileSync,
  realpathSync,
  renameSync,
  rmSync,
  writeFileSync,
} from 'node:fs';
import { join } from 'node:path';
import { allProcesses, folderOfProcess, processInfo, type ProcessInfo } from './processes.js';
import type { Account } from './state-folder.js';
import { CannotStart } from './stop.js';

export const USER = 'bevrin';
const STOP_WITHIN_SEC = 20;
/** Backends notice within a second or two that their postmaster has gone. */
const ORPHANS_END_WITHIN_MS = 10_000;

/** A data folder of PostgreSQL's and how its programs are run on it. */
export interface Cluster {
  /** Folder of PostgreSQL's programs. */
  readonly programs: string;
  /** The data folder. */
  readonly folder: string;
  /** File that holds the password. */
  readonly secret: string;
  readonly account: Account | null;
}

export const optionsFor = ({ account, folder }: Cluster): SpawnOptions => ({
  ...account,
  cwd: join(folder, '..'),
});

/** @throws {CannotStart} with what initdb says */
export const createCluster = (cluster: Cluster): void => {
  const { programs, folder, secret, account } = cluster;
  // What a first start left half way holds nothing yet: its version file is written at the end.
  rmSync(folder, { recursive: true, force: true });
  writeFileSync(secret, `${randomBytes(18).toString('base64url')}\n`, { mode: 0o600 });
  if (account) chownSync(secret, account.uid, account.gid);
  const choices = ['-U', USER, '--pwfile', secret, '--auth', 'scram-sha-256'];
  const made = spawnSync(
    join(programs, 'initdb'),
    ['-D', folder, ...choices, '--encoding', 'UTF8', '--locale', 'C.UTF-8'],
    { ...optionsFor(cluster), encoding: 'utf8' },
  );
  if (made.status === 0) return;
  rmSync(folder, { recursive: true, force: true });
  throw new CannotStart(
    `PostgreSQL could not make its cluster: ${made.stderr.trim() || made.error?.message}`,
  );
};

/** Processes of PostgreSQL that work in this data folder, whatever any file says: each of them stands in it. */
const processesIn = (folder: string): ProcessInfo[] => {
  const real = realpathSync(folder);
  return allProcesses().filter((p) => !p.zombie && p.name === 'postgres' && folderOfProcess(p.pid) === real);
};

/**
 * Brings a cluster to rest: stops a server that an earlier start left running in it, and waits for the sessions of one
 * that was killed. No process is touched that does not work in this very folder.
 * @throws {CannotStart} when it does not come to rest
 */
export const bringToRest = async (cluster: Cluster): Promise<void> => {
  const { programs, folder } = cluster;
  if (!existsSync(folder)) return;
  const leader = leaderNoted(folder);
  const ours = (): ProcessInfo[] => processesIn(folder);
  if (leader && ours().some((p) => p.pid === leader) && isRunning(cluster)) {
    const stop = (mode: string): boolean =>
      spawnSync(
        join(programs, 'pg_ctl'),
        ['stop', '-D', folder, '-m', mode, '-t', String(STOP_WITHIN_SEC), '-s'],
        optionsFor(cluster),
      ).status === 0;
    if (!stop('fast')) stop('immediate');
  }
  const deadline = Date.now() + ORPHANS_END_WITHIN_MS;
  while (ours().length > 0) {
    if (Date.now() > deadline)
      throw new CannotStart(
        `PostgreSQL's processes ${ours()
          .map((p) => p.pid)
          .join(', ')} still work in ${folder}. Stop them, then try again.`,
      );
    await new Promise((done) => setTimeout(done, 100));
  }
  setAsideStaleLock(folder);
};

/** Whether pg_ctl takes the server of this cluster for running. */
const isRunning = (cluster: Cluster): boolean =>
  spawnSync(join(cluster.programs, 'pg_ctl'), ['status', '-D', cluster.folder], optionsFor(cluster))
    .status === 0;

const leaderNoted = (folder: string): number => {
  const note = join(folder, 'postmaster.pid');
  return existsSync(note) ? Number(readFileSync(note, 'utf8').split('\n')[0]) : 0;
};

/**
 * PostgreSQL takes over the lock of a server that was killed, unless its number belongs to some process again: another
 * program of this account, or a process that has ended and that nobody asks after. Only when no process works in the
 * folder is that lock set aside; it is kept for whoever wants to know.
 */
const setAsideStaleLock = (folder: string): void => {
  const leader = leaderNoted(folder);
  if (leader && processInfo(leader) !== null)
    renameSync(join(folder, 'postmaster.pid'), join(folder, 'postmaster.pid.stale'));
};
