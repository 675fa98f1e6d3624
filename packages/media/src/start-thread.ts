import { existsSync } from 'node:fs';
import { createRequire } from 'node:module';
import { fileURLToPath } from 'node:url';
import { Worker } from 'node:worker_threads';

/**
 * Starts a module on a thread of its own. A built program has it as a file beside; from the sources it is begun by the
 * `.mjs` of its name where it loads more as it goes on, or else loaded as TypeScript.
 * @param module its address once it is built, ending with `.js`
 */
export const startThread = (module: URL): Worker => {
  if (import.meta.url.endsWith('.js')) return new Worker(module, { execArgv: [] });
  const begun = new URL(module.href.replace(/\.js$/, '.mjs'));
  if (existsSync(begun)) return new Worker(begun, { execArgv: [] });
  const loader = createRequire(import.meta.url).resolve('tsx/cjs');
  const file = fileURLToPath(module).replace(/\.js$/, '.ts');
  // A thread's first module is loaded before TypeScript is known to it.
  return new Worker(`require(${JSON.stringify(loader)}); require(${JSON.stringify(file)});`, {
    eval: true,
    execArgv: [],
  });
};
