import { prepare, serve, VAR } from './setup/serve.js';
import { runCommand } from './setup/stop.js';

await runCommand(async (undoing) => {
  await prepare(undoing, VAR);
  await (
    await serve(undoing, VAR)
  ).built;
  return 'until stopped';
});
