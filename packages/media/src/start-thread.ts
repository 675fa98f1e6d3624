import { existsSync } from 'node:fs';
import { createRequire } from 'node:module';
import { basename, join } from 'node:path';
import { fileURLToPath, pathToFileURL } from 'node:url';
import { Worker } from 'node:worker_threads';

/**
 * The file that a thread begins with: in a built program one beside it; otherwise that of its name in the folder of built
 * threads, `BEVRIN_THREADS`, where that is set; or else the `.mjs` of its name, if there is one.
 * @param module its address once it is built, ending with `.js`
 * @returns `null` where it is TypeScript alone
 */
export const threadFile = (module: URL): URL | null => {
  if (import.meta.url.endsWith('.js')) return module;
  const built = process.env.BEVRIN_THREADS;
  if (built) return pathToFileURL(join(built, basename(module.pathname)));
  const begun = new URL(module.href.replace(/\.js$/, '.mjs'));
  return existsSync(begun) ? begun : null;
};

/**
 * Starts a module on a thread of its own.
 * @param module its address once it is built, ending with `.js`
 */
export const startThread = (module: URL): Worker => {
  const begun = threadFile(module);
  if (begun) return new Worker(begun, { execArgv: [], env: withoutLoader() });
  const loader = createRequire(import.meta.url).resolve('tsx/cjs');
  const file = fileURLToPath(module).replace(/\.js$/, '.ts');
  // A thread's first module is loaded before TypeScript is known to it.
  return new Worker(`require(${JSON.stringify(loader)}); require(${JSON.stringify(file)});`, {
    eval: true,
    execArgv: [],
  });
};

/** What is built needs nobody to load TypeScript for it: that takes a quarter of a second a thread. */
const withoutLoader = (): NodeJS.ProcessEnv => ({
  ...process.env,
  NODE_OPTIONS: process.env.NODE_OPTIONS?.replace('--import tsx', '') ?? '',
});
