import { prepare, serve, VAR } from './setup/serve.js';
import { runCommand } from './setup/stop.js';

await runCommand(async (undoing) => {
  prepare(undoing, VAR);
  const server = await serve(undoing, VAR);
  console.log(`Bevrin is ready: ${server.url}`);
  return 'until stopped';
});
