import { spawn } from 'node:child_process';
import { existsSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { newest } from './bundle.mjs';
import { CannotStart } from './stop.js';

const SOURCES = [
  'apps/web/src',
  'apps/web/index.html',
  'apps/web/vite.config.ts',
  'packages/contract/src',
  'packages/core/src',
  'package-lock.json',
];
export const WEB_DIST = join('apps', 'web', 'dist');

const isBuilt = (): boolean => {
  const index = join(WEB_DIST, 'index.html');
  return existsSync(index) && statSync(index).mtimeMs > Math.max(...SOURCES.map(newest));
};

/**
 * Builds the pages when they are older than what they are made of, in a process of its own: whoever waits for an answer
 * meanwhile gets it.
 * @throws {CannotStart} with what the builder says
 */
export const buildWeb = async (): Promise<void> => {
  if (isBuilt()) return;
  console.log('Building the pages …');
  const vite = join('node_modules', 'vite', 'bin', 'vite.js');
  const child = spawn(
    process.execPath,
    [vite, 'build', '--config', 'apps/web/vite.config.ts', '--logLevel', 'error'],
    { stdio: ['ignore', 'ignore', 'pipe'] },
  );
  let said = '';
  child.stderr.setEncoding('utf8').on('data', (text: string) => (said += text));
  const code = await new Promise<number | null>((done) => child.once('close', done));
  if (code !== 0) throw new CannotStart(`The pages could not be built: ${said.trim()}`);
};
