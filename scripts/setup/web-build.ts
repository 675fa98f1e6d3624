import { existsSync, readdirSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { build } from 'vite';

const SOURCES = [
  'apps/web/src',
  'apps/web/index.html',
  'apps/web/vite.config.ts',
  'packages/contract/src',
  'packages/core/src',
  'package-lock.json',
];
export const WEB_DIST = join('apps', 'web', 'dist');

const newest = (path: string): number => {
  const found = statSync(path);
  return found.isDirectory()
    ? Math.max(0, ...readdirSync(path).map((name) => newest(join(path, name))))
    : found.mtimeMs;
};

/** Builds the pages when they are older than what they are made of. */
export const buildWeb = async (): Promise<void> => {
  const index = join(WEB_DIST, 'index.html');
  if (existsSync(index) && statSync(index).mtimeMs > Math.max(...SOURCES.map(newest))) return;
  console.log('Building the pages …');
  await build({ configFile: 'apps/web/vite.config.ts', logLevel: 'warn' });
};
