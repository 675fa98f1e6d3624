import { threadFile } from '@bevrin/media';

const begun = (name: string): string => {
  const file = threadFile(new URL(`./${name}.js`, import.meta.url));
  if (!file) throw new Error(`There is no thread "${name}".`);
  return file.href;
};

/** What the threads of the house begin with: one measures, one tries treatments, one rechecks what came back. */
export const MEASURE_THREAD = begun('measure-thread');
export const TRIAL_THREAD = begun('trial-thread');
export const RECHECK_THREAD = begun('recheck-thread');
