import { existsSync, mkdirSync, readFileSync, rmSync, statfsSync, writeFileSync } from 'node:fs';
import { join, resolve } from 'node:path';
import { readConfig, startServer, type RunningServer } from '@bevrin/server';
import { ensurePackages } from './debian.js';
import { startPostgres } from './postgres.js';
import { CannotStart, type Undoing } from './stop.js';
import { buildWeb, WEB_DIST } from './web-build.js';

export const VAR = resolve(process.env.BEVRIN_VAR ?? 'var');
/** Less free space than this and the first uploads would fail. */
const LEAST_FREE_BYTES = 500e6;

/** Two at once on one folder would pull the database out from under each other. */
const takeFolder = (undoing: Undoing): void => {
  mkdirSync(VAR, { recursive: true });
  const lock = join(VAR, 'running.pid');
  const holder = existsSync(lock) ? Number(readFileSync(lock, 'utf8')) : 0;
  if (holder && holder !== process.pid && isBevrin(holder))
    throw new CannotStart(
      `Bevrin runs from this folder already (process ${holder}). Stop it first, or start this one with another folder: BEVRIN_VAR=other-folder.`,
    );
  writeFileSync(lock, String(process.pid));
  undoing.add(() => rmSync(lock, { force: true }));
};

/** A crash leaves the number behind, and another program may have got it since. */
const isBevrin = (pid: number): boolean => {
  try {
    return readFileSync(`/proc/${pid}/cmdline`, 'utf8').includes('scripts/');
  } catch {
    return false;
  }
};

const checkSpace = (): void => {
  const { bavail, bsize } = statfsSync(VAR);
  if (bavail * bsize < LEAST_FREE_BYTES)
    throw new CannotStart(
      `Only ${Math.round((bavail * bsize) / 1e6)} MB are free on the disk of ${VAR}; at least ${LEAST_FREE_BYTES / 1e6} MB are needed. Free some space and try again.`,
    );
};

/** The database: the one that DATABASE_URL names, or our own. */
export const database = async (undoing: Undoing): Promise<string> => {
  const given = process.env.DATABASE_URL;
  if (given) return given;
  const postgres = await startPostgres(join(VAR, 'postgres'));
  undoing.add(() => postgres.stop());
  return postgres.url;
};

/** Takes the folder, checks the disk and installs what Debian has to give. */
export const prepare = (undoing: Undoing): void => {
  ensurePackages(process.env.DATABASE_URL ? ['ffmpeg'] : ['ffmpeg', 'postgresql']);
  takeFolder(undoing);
  checkSpace();
};

/** Starts everything that serves the pages. */
export const serve = async (undoing: Undoing, mediaDirs: readonly string[] = []): Promise<RunningServer> => {
  await buildWeb();
  const databaseUrl = await database(undoing);
  const media = process.env.MEDIA_DIRS ?? 'media';
  const environment = {
    ...process.env,
    DATABASE_URL: databaseUrl,
    BEVRIN_VAR: VAR,
    MEDIA_DIRS: [media, ...mediaDirs].join(':'),
  };
  const server = await startServer(readConfig(environment, resolve(WEB_DIST)));
  undoing.add(() => server.stop());
  return server;
};
