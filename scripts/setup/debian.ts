import { spawnSync } from 'node:child_process';
import { existsSync, readdirSync } from 'node:fs';
import { join } from 'node:path';
import { CannotStart } from './stop.js';

const POSTGRES_HOME = '/usr/lib/postgresql';

/** Folder of the newest PostgreSQL's programs, or `null`. */
export const postgresPrograms = (): string | null => {
  const versions = existsSync(POSTGRES_HOME) ? readdirSync(POSTGRES_HOME).filter((v) => /^\d+$/.test(v)) : [];
  const newest = versions
    .sort((a, b) => Number(b) - Number(a))
    .find((v) => existsSync(join(POSTGRES_HOME, v, 'bin', 'initdb')));
  return newest ? join(POSTGRES_HOME, newest, 'bin') : null;
};

const onPath = (program: string): boolean =>
  (process.env.PATH ?? '').split(':').some((folder) => folder && existsSync(join(folder, program)));

/** What Bevrin takes from Debian, and how to tell that it is there. */
const PACKAGES = {
  ffmpeg: () => onPath('ffmpeg') && onPath('ffprobe'),
  postgresql: () => postgresPrograms() !== null,
  chromium: () => onPath('chromium'),
} as const;
export type DebianPackage = keyof typeof PACKAGES;

/**
 * Installs the Debian packages that are missing.
 * @throws {CannotStart} with the command to run by hand
 */
export const ensurePackages = (wanted: readonly DebianPackage[]): void => {
  const missing = wanted.filter((name) => !PACKAGES[name]());
  if (missing.length === 0) return;
  const byHand = `Install by hand: apt-get install ${missing.join(' ')}`;
  if (!onPath('apt-get'))
    throw new CannotStart(
      `Missing: ${missing.join(', ')}, and there is no apt-get here. Install them with the system's own package manager.`,
    );
  const asRoot = process.getuid?.() === 0 ? [] : ['sudo', '-n'];
  if (asRoot.length > 0 && !onPath('sudo'))
    throw new CannotStart(`Missing: ${missing.join(', ')}, and only root may install them. ${byHand}`);
  console.log(`Installing from Debian: ${missing.join(', ')} …`);
  const apt = (...args: string[]): boolean => {
    const [program, ...rest] = [...asRoot, 'env', 'DEBIAN_FRONTEND=noninteractive', 'apt-get', ...args];
    return spawnSync(program, rest, { stdio: ['ignore', 'inherit', 'inherit'] }).status === 0;
  };
  const installed =
    apt('update', '-qq') && apt('install', '-y', '-qq', '--no-install-recommends', ...missing);
  const still = missing.filter((name) => !PACKAGES[name]());
  if (!installed || still.length > 0)
    throw new CannotStart(`Could not install ${still.join(', ') || missing.join(', ')}. ${byHand}`);
};
