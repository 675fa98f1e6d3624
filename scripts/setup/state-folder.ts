import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { chownSync, existsSync, lstatSync, mkdirSync, readFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join, resolve } from 'node:path';
import { CannotStart } from './stop.js';

/** An account of the machine. */
export interface Account {
  readonly uid: number;
  readonly gid: number;
}

/** Where a service keeps its state (Filesystem Hierarchy Standard 3.0, section 5.8). */
const STATE_HOME = '/var/lib/bevrin';

/** PostgreSQL refuses to run as root: then it runs under the account that its package made. */
export const unprivileged = (): Account | null => {
  if (process.getuid?.() !== 0) return null;
  const lines = readFileSync('/etc/passwd', 'utf8').split('\n');
  const line = lines.find((l) => l.startsWith('postgres:')) ?? lines.find((l) => l.startsWith('nobody:'));
  if (!line)
    throw new CannotStart(
      'PostgreSQL must not run as root, and there is no account "postgres" to run it under.',
    );
  const [, , uid, gid] = line.split(':').map(Number);
  return { uid, gid };
};

/** Who owns a folder may read what is in it; nobody else may change it. */
const mustBeOurs = (folder: string, owner: number): void => {
  const found = lstatSync(folder);
  const wrong = found.isSymbolicLink()
    ? 'it is a link'
    : !found.isDirectory()
      ? 'it is not a folder'
      : found.uid !== owner
        ? `it belongs to another account (user id ${found.uid}, not ${owner})`
        : found.mode & 0o022
          ? `others may write to it (mode ${(found.mode & 0o777).toString(8)})`
          : null;
  if (wrong !== null)
    throw new CannotStart(
      `PostgreSQL's data cannot lie in ${folder}: ${wrong}. Move it out of the way or put its owner and mode right, then try again.`,
    );
};

const make = (folder: string, account: Account | null): void => {
  if (existsSync(folder)) return;
  // The folders above it are anybody's to pass through.
  mkdirSync(dirname(folder), { recursive: true });
  mkdirSync(folder, { mode: 0o700 });
  if (account) chownSync(folder, account.uid, account.gid);
};

/**
 * The folder for a cluster: the wanted one; or, when Bevrin runs as root from where PostgreSQL's account may not come
 * in, one in the machine's place for the state of services. Never in a temporary folder, which is emptied at boot.
 * @param wanted an absolute path
 * @param chosen whether a person named the place: then no other is taken in its stead
 * @throws {CannotStart} when neither place is safe
 */
export const clusterHome = (
  wanted: string,
  { account = unprivileged(), chosen = Boolean(process.env.BEVRIN_VAR), stateHome = STATE_HOME } = {},
): string => {
  make(wanted, account);
  const owner = account?.uid ?? process.getuid?.() ?? 0;
  if (account && lstatSync(wanted).uid === 0 && lstatSync(wanted).isDirectory())
    chownSync(wanted, account.uid, account.gid);
  mustBeOurs(wanted, owner);
  if (!account || spawnSync('test', ['-w', wanted], { ...account }).status === 0) return wanted;
  if (chosen)
    throw new CannotStart(
      `PostgreSQL must not run as root, and its account may not enter ${dirname(wanted)}, which BEVRIN_VAR names. Let others pass through the folders above it (chmod o+x), or leave BEVRIN_VAR out: then its data lie under ${stateHome}.`,
    );
  if (!existsSync(stateHome)) mkdirSync(stateHome, { recursive: true, mode: 0o755 });
  mustBeOurs(stateHome, 0);
  const home = join(stateHome, keyOf(wanted));
  make(home, account);
  mustBeOurs(home, owner);
  adoptFromTemporary(wanted, home, owner);
  return home;
};

/** Checkouts on one machine do not share their data. */
const keyOf = (wanted: string): string =>
  createHash('sha256').update(resolve(wanted)).digest('hex').slice(0, 12);

/** Until version 0.1.0 the data of such a start lay in a temporary folder: they are fetched from there, once. */
const adoptFromTemporary = (wanted: string, home: string, owner: number): void => {
  const old = join(tmpdir(), `bevrin-${keyOf(wanted)}`);
  if (existsSync(join(home, 'cluster')) || !existsSync(join(old, 'cluster', 'PG_VERSION'))) return;
  for (const folder of [old, join(old, 'cluster')]) mustBeOurs(folder, owner);
  if (existsSync(join(old, 'cluster', 'postmaster.pid')))
    throw new CannotStart(
      `The database of an earlier start may still be running from ${old}. Stop it (process ${readFileSync(join(old, 'cluster', 'postmaster.pid'), 'utf8').split('\n')[0]}) and remove its postmaster.pid, then try again: its data will be moved to ${home}.`,
    );
  const moved = spawnSync('mv', ['-n', join(old, 'password'), join(old, 'cluster'), home]);
  if (moved.status !== 0)
    throw new CannotStart(
      `The database in ${old} could not be moved to ${home}: ${moved.stderr.toString().trim()}`,
    );
  console.log(`The database was moved from ${old}, which is emptied at boot, to ${home}.`);
};
