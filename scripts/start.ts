import { prepare, serve } from './setup/serve.js';
import { runCommand } from './setup/stop.js';

await runCommand(async (undoing) => {
  prepare(undoing);
  const server = await serve(undoing);
  console.log(`Bevrin is ready: ${server.url}`);
  return 'until stopped';
});
