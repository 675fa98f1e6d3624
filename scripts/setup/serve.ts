import { statfsSync } from 'node:fs';
import { join, resolve } from 'node:path';
import { readConfig, startServer, type RunningServer } from '@bevrin/server';
import { installPackages } from './debian.mjs';
import { takeFolder } from './folder-lock.js';
import { startPostgres } from './postgres.js';
import { buildServer } from './server-build.js';
import { CannotStart, type Undoing } from './stop.js';
import { buildWeb, WEB_DIST } from './web-build.js';

/** Where everything is kept. */
export const VAR = resolve(process.env.BEVRIN_VAR ?? 'var');
/** The demo has a place of its own: starting it over takes nothing from the house. */
export const DEMO = join(VAR, 'demo');
/** Less free space than this and the first uploads would fail. */
const LEAST_FREE_BYTES = 500e6;

const checkSpace = (home: string): void => {
  const { bavail, bsize } = statfsSync(home);
  if (bavail * bsize < LEAST_FREE_BYTES)
    throw new CannotStart(
      `Only ${Math.round((bavail * bsize) / 1e6)} MB are free on the disk of ${home}; at least ${LEAST_FREE_BYTES / 1e6} MB are needed. Free some space and try again.`,
    );
};

/** The database: the one that DATABASE_URL names, or our own. */
export const database = async (undoing: Undoing, home: string): Promise<string> => {
  const given = process.env.DATABASE_URL;
  if (given) return given;
  const postgres = await startPostgres(join(home, 'postgres'));
  undoing.add(() => postgres.stop());
  return postgres.url;
};

/**
 * Takes the folder, checks the disk and installs what Debian has to give.
 * @param home where database and files of this start lie
 */
export const prepare = async (undoing: Undoing, home: string): Promise<void> => {
  const why = await installPackages(process.env.DATABASE_URL ? ['ffmpeg'] : ['ffmpeg', 'postgresql']);
  if (why !== null) throw new CannotStart(why);
  undoing.add(takeFolder(home));
  checkSpace(home);
};

/**
 * Starts everything that serves the pages. The address is there at once: the pages are built while other things go on.
 * @returns the server, and what settles when the pages are built
 */
export const serve = async (
  undoing: Undoing,
  home: string,
  mediaDirs: readonly string[] = [],
): Promise<{ server: RunningServer; built: Promise<void> }> => {
  const databaseUrl = await database(undoing, home);
  const media = process.env.MEDIA_DIRS ?? 'media';
  const environment = {
    ...process.env,
    DATABASE_URL: databaseUrl,
    BEVRIN_VAR: home,
    MEDIA_DIRS: [media, ...mediaDirs].join(':'),
  };
  process.env.BEVRIN_THREADS = await buildServer();
  // What nobody waited for must not end what others wait for.
  process.on('unhandledRejection', (error) => console.error(error));
  const server = await startServer(readConfig(environment, resolve(WEB_DIST)));
  undoing.add(() => server.stop());
  console.log(`Bevrin is ready: ${server.url}`);
  return { server, built: buildWeb() };
};
