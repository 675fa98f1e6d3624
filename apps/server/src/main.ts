import { destination, pino } from 'pino';
import { readConfig } from './config.js';
import { startServer } from './server.js';

/** Started by the development command, which restarts it when a file changes, and by tests that kill it. */
const log = pino({ level: process.env.LOG_LEVEL ?? 'warn' }, destination(2));
// What nobody waited for must not end what others wait for.
process.on('unhandledRejection', (error) => log.error({ err: error }, 'an error that nobody waited for'));
const config = readConfig(process.env, process.env.WEB_DIR ?? null);
const server = await startServer(config, log, {}, config.role);
console.error(config.role === 'worker' ? 'worker at work' : `server on ${server.url}`);
for (const signal of ['SIGINT', 'SIGTERM'] as const)
  process.once(signal, () => void server.stop().then(() => process.exit(0)));
