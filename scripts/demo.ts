import { rmSync } from 'node:fs';
import { join } from 'node:path';
import { removePostgres } from './setup/postgres.js';
import { prepare, serve, VAR } from './setup/serve.js';
import { runCommand } from './setup/stop.js';
import { loadDemo, renderDemo } from './setup/tidewater.js';

const CLIPS = join(VAR, 'demo');

await runCommand(async (undoing) => {
  prepare(undoing);
  if (process.argv.includes('--fresh')) {
    console.log('Starting over: the database and everything that was uploaded are removed.');
    await removePostgres(join(VAR, 'postgres'));
    rmSync(join(VAR, 'store'), { recursive: true, force: true });
  }
  await renderDemo(CLIPS);
  const server = await serve(undoing, [CLIPS]);
  await loadDemo(server, CLIPS);
  console.log(`Bevrin is ready: ${server.url}`);
  return 'until stopped';
});
