import { readFileSync } from 'node:fs';
import { join, resolve } from 'node:path';
import { bundled } from './bundle.mjs';

const JOBS = join('apps', 'server', 'src', 'jobs');
const MEDIA = join('packages', 'media', 'src');
const DIST = resolve('apps', 'server', 'dist');

/**
 * Builds the server and its threads where they are older than what they are made of: a process or a thread then starts in
 * a tenth of the time.
 * @returns the folder of the built threads, for `BEVRIN_THREADS`
 */
export const buildServer = async (): Promise<string> => {
  const { dependencies } = JSON.parse(readFileSync(join('apps', 'server', 'package.json'), 'utf8')) as {
    dependencies: Record<string, string>;
  };
  await bundled({
    entries: {
      main: join('apps', 'server', 'src', 'main.ts'),
      'measure-thread': join(JOBS, 'measure-task.ts'),
      'trial-thread': join(JOBS, 'trial-task.ts'),
      'recheck-thread': join(JOBS, 'recheck-task.ts'),
      thread: join(MEDIA, 'reader', 'thread.ts'),
      'run-thread': join(MEDIA, 'trial', 'run-thread.ts'),
    },
    dist: DIST,
    sources: [
      ...['contract', 'core', 'media', 'specs'].map((name) => join('packages', name, 'src')),
      join('apps', 'server', 'src'),
      join('scripts', 'setup', 'bundle.mjs'),
      'package-lock.json',
    ],
    external: Object.keys(dependencies).flatMap((name) => [name, `${name}/*`]),
  });
  return DIST;
};
