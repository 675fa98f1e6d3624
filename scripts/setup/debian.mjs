// What Bevrin takes from Debian. Plain JavaScript: it is looked for while the npm packages are still coming.
import { spawn } from 'node:child_process';
import { existsSync, readdirSync } from 'node:fs';
import { join } from 'node:path';

const POSTGRES_HOME = '/usr/lib/postgresql';

/** See debian.d.mts. */
export const postgresPrograms = () => {
  const versions = existsSync(POSTGRES_HOME) ? readdirSync(POSTGRES_HOME).filter((v) => /^\d+$/.test(v)) : [];
  const newest = versions
    .sort((a, b) => Number(b) - Number(a))
    .find((v) => existsSync(join(POSTGRES_HOME, v, 'bin', 'initdb')));
  return newest ? join(POSTGRES_HOME, newest, 'bin') : null;
};

const onPath = (program) =>
  (process.env.PATH ?? '').split(':').some((folder) => folder && existsSync(join(folder, program)));

/** How to tell that each is there. */
const PACKAGES = {
  ffmpeg: () => onPath('ffmpeg') && onPath('ffprobe'),
  postgresql: () => postgresPrograms() !== null,
  chromium: () => onPath('chromium'),
};

/** See debian.d.mts. */
export const installPackages = async (wanted) => {
  const missing = wanted.filter((name) => !PACKAGES[name]());
  if (missing.length === 0) return null;
  const byHand = `Install by hand: apt-get install ${missing.join(' ')}`;
  if (!onPath('apt-get'))
    return `Missing: ${missing.join(', ')}, and there is no apt-get here. Install them with the system's own package manager.`;
  const asRoot = process.getuid?.() === 0 ? [] : ['sudo', '-n'];
  if (asRoot.length > 0 && !onPath('sudo'))
    return `Missing: ${missing.join(', ')}, and only root may install them. ${byHand}`;
  console.log(`Installing from Debian: ${missing.join(', ')} …`);
  const apt = (...args) => {
    const [program, ...rest] = [...asRoot, 'env', 'DEBIAN_FRONTEND=noninteractive', 'apt-get', ...args];
    const child = spawn(program, rest, { stdio: ['ignore', 'inherit', 'inherit'] });
    return new Promise((done) => {
      child.once('error', () => done(false));
      child.once('exit', (code) => done(code === 0));
    });
  };
  const installed =
    (await apt('update', '-qq')) &&
    (await apt('install', '-y', '-qq', '--no-install-recommends', ...missing));
  const still = missing.filter((name) => !PACKAGES[name]());
  return installed && still.length === 0
    ? null
    : `Could not install ${still.join(', ') || missing.join(', ')}. ${byHand}`;
};
