import { readConfig } from './config.js';
import { startServer } from './server.js';

/** Started by the development command, which restarts it when a file changes. */
const server = await startServer(readConfig(process.env, null));
console.error(`server on ${server.url}`);
for (const signal of ['SIGINT', 'SIGTERM'] as const)
  process.once(signal, () => void server.stop().then(() => process.exit(0)));
