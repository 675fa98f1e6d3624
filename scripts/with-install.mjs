// Runs a script of this folder once the npm packages are there. Plain JavaScript: it starts before anything is installed.
import { spawn, spawnSync } from 'node:child_process';
import { existsSync, statSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';

const LEAST_NODE = [20, 19];
const root = join(dirname(fileURLToPath(import.meta.url)), '..');

const [major, minor] = process.versions.node.split('.').map(Number);
if (major < LEAST_NODE[0] || (major === LEAST_NODE[0] && minor < LEAST_NODE[1])) {
  console.error(`Bevrin needs Node.js ${LEAST_NODE.join('.')} or newer; this is ${process.version}.`);
  process.exit(1);
}

const installed = join(root, 'node_modules', '.package-lock.json');
const wanted = join(root, 'package-lock.json');
if (!existsSync(installed) || statSync(installed).mtimeMs < statSync(wanted).mtimeMs) {
  console.log('Installing the npm packages …');
  const { status } = spawnSync('npm', ['ci', '--no-audit', '--no-fund', '--loglevel=error'], {
    cwd: root,
    stdio: 'inherit',
  });
  if (status !== 0) {
    console.error(
      'The npm packages could not be installed. Check the network and the free disk space, then try again.',
    );
    process.exit(1);
  }
}

const [script, ...args] = process.argv.slice(2);
const child = spawn(process.execPath, ['--import', 'tsx', join(root, script), ...args], {
  cwd: root,
  stdio: 'inherit',
});
for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP']) process.on(signal, () => child.kill(signal));
child.on('exit', (code, signal) => process.exit(code ?? (signal === 'SIGINT' ? 130 : 1)));
