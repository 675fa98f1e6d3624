// Starts a command from one built file, so that it answers at once. Plain JavaScript: nothing is compiled on the way.
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { bundled } from '../../scripts/setup/bundle.mjs';

const here = dirname(fileURLToPath(import.meta.url));
const root = join(here, '..', '..');
const dist = join(here, 'dist');
const media = join(root, 'packages', 'media', 'src');

/** Runs a command of this folder; builds it before, where its sources are newer. */
export const start = async (name) => {
  await bundled({
    entries: {
      measure: join(here, 'src', 'measure.ts'),
      try: join(here, 'src', 'try.ts'),
      recheck: join(here, 'src', 'recheck.ts'),
      thread: join(media, 'reader', 'thread.ts'),
      'run-thread': join(media, 'trial', 'run-thread.ts'),
    },
    dist,
    sources: [
      'packages/contract/src',
      'packages/core/src',
      'packages/media/src',
      'packages/specs/src',
      'apps/cli/src',
      'apps/cli/start.mjs',
      'scripts/setup/bundle.mjs',
      'package-lock.json',
    ].map((path) => join(root, path)),
  });
  const { run } = await import(join(dist, `${name}.js`));
  process.exitCode = await run(process.argv.slice(2));
};
