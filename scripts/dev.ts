import { spawn } from 'node:child_process';
import { join } from 'node:path';
import { createServer } from 'vite';
import { database, DEMO, prepare, VAR } from './setup/serve.js';
import { runCommand } from './setup/stop.js';

const API_PORT = '4181';

/** For people who change the code: the pages reload, the server restarts. */
await runCommand(async (undoing) => {
  await prepare(undoing, VAR);
  const environment = {
    ...process.env,
    DATABASE_URL: await database(undoing, VAR),
    PORT: API_PORT,
    BEVRIN_VAR: VAR,
    MEDIA_DIRS: `media:${join(DEMO, 'clips')}`,
  };
  const server = spawn(
    process.execPath,
    ['--watch-path=apps/server/src', '--watch-path=packages', '--import', 'tsx', 'apps/server/src/main.ts'],
    { env: environment, stdio: 'inherit' },
  );
  undoing.add(() => void server.kill('SIGTERM'));
  process.env.BEVRIN_API = `http://127.0.0.1:${API_PORT}`;
  const vite = await createServer({ configFile: 'apps/web/vite.config.ts' });
  await vite.listen(Number(process.env.PORT ?? 4180));
  undoing.add(() => vite.close());
  console.log(`Bevrin for development: ${vite.resolvedUrls?.local[0] ?? ''}`);
  return 'until stopped';
});
