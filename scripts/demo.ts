import { existsSync, mkdirSync, renameSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { TIDEWATER } from '@bevrin/rig';
import { removePostgres } from './setup/postgres.js';
import { DEMO, prepare, serve } from './setup/serve.js';
import { CannotStart, runCommand } from './setup/stop.js';
import { deliverDemo, forgetDeliveries } from './setup/tidewater.js';

const CLIPS = join(DEMO, 'clips');

/** Clips that an earlier version drew lie one folder higher: nobody waits for them twice. */
const takeOver = (): void => {
  mkdirSync(CLIPS, { recursive: true });
  for (const name of TIDEWATER.flatMap((c) => [c.name, `${c.name}.truth.json`]))
    if (existsSync(join(DEMO, name)) && !existsSync(join(CLIPS, name)))
      renameSync(join(DEMO, name), join(CLIPS, name));
};

const startOver = async (): Promise<void> => {
  if (process.env.DATABASE_URL)
    throw new CannotStart(
      '--fresh removes a database of our own only, and DATABASE_URL names another one. Empty that one by hand, or leave DATABASE_URL out.',
    );
  console.log("Starting over: the demo's database and what was uploaded to it are removed.");
  await removePostgres(join(DEMO, 'postgres'));
  rmSync(join(DEMO, 'store'), { recursive: true, force: true });
  forgetDeliveries(DEMO);
};

await runCommand(async (undoing) => {
  await prepare(undoing, DEMO);
  if (process.argv.includes('--fresh')) await startOver();
  takeOver();
  const { server, built } = await serve(undoing, DEMO, [CLIPS]);
  await Promise.all([built, deliverDemo(server, DEMO, CLIPS)]);
  return 'until stopped';
});
