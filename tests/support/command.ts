import { spawnSync, type SpawnSyncOptionsWithStringEncoding } from 'node:child_process';
import type { Streams } from '../../apps/cli/src/asked.js';

/** What a command said, and how it ended. */
export interface Said {
  readonly status: number | null;
  readonly stdout: string;
  readonly stderr: string;
}

type Run = (args: readonly string[], streams: Streams) => Promise<number>;

/** How a test starts a command: as anybody does, without what the tests themselves are loaded with. */
export const asACommand = (): SpawnSyncOptionsWithStringEncoding => ({
  encoding: 'utf8',
  env: { ...process.env, NODE_OPTIONS: '' },
});

/** A command in a process of its own, which is slow at first: `apps/cli/measure.mjs` by its name, `measure`. */
export const inItsProcess = (name: string, ...args: readonly string[]): Said => {
  const { status, stdout, stderr } = spawnSync(
    process.execPath,
    [`apps/cli/${name}.mjs`, ...args],
    asACommand(),
  );
  return { status, stdout, stderr };
};

/** A command in the process of the tests, where all that it is made of is warm. */
export const inThisProcess =
  (run: Run) =>
  async (...args: readonly string[]): Promise<Said> => {
    let [stdout, stderr] = ['', ''];
    const status = await run(args, {
      stdout: { write: (text) => (stdout += text) },
      stderr: { write: (text) => (stderr += text) },
    });
    return { status, stdout, stderr };
  };
