import { Piscina } from 'piscina';
import { threadFile } from '@bevrin/media';

/** Threads of the house: one measures, one tries treatments, one rechecks what came back. */
type ThreadName = 'measure-thread' | 'trial-thread' | 'recheck-thread';

/** A pool of threads that begin with a module of this folder; built ones are looked for now, not when this file is loaded. */
export const poolOf = (name: ThreadName, maxThreads = 1): Piscina => {
  const file = threadFile(new URL(`./${name}.js`, import.meta.url));
  if (!file) throw new Error(`There is no thread "${name}".`);
  return new Piscina({ filename: file.href, maxThreads, execArgv: [] });
};
