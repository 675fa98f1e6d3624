import { prepare, serve, VAR } from './setup/serve.js';
import { runCommand } from './setup/stop.js';

await runCommand(async (undoing) => {
  prepare(undoing, VAR);
  await serve(undoing, VAR);
  return 'until stopped';
});
