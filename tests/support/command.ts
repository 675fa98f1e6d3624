import type { SpawnSyncOptionsWithStringEncoding } from 'node:child_process';

/** How a test starts a command: as anybody does, without what the tests themselves are loaded with. */
export const asACommand = (): SpawnSyncOptionsWithStringEncoding => ({
  encoding: 'utf8',
  env: { ...process.env, NODE_OPTIONS: '' },
});
