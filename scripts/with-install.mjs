// Runs a script of this folder once the npm packages are there. Plain JavaScript: it starts before anything is installed.
import { spawn } from 'node:child_process';
import { existsSync, statSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { installPackages } from './setup/debian.mjs';

const LEAST_NODE = [20, 19];
const root = join(dirname(fileURLToPath(import.meta.url)), '..');

const [major, minor] = process.versions.node.split('.').map(Number);
if (major < LEAST_NODE[0] || (major === LEAST_NODE[0] && minor < LEAST_NODE[1])) {
  console.error(`Bevrin needs Node.js ${LEAST_NODE.join('.')} or newer; this is ${process.version}.`);
  process.exit(1);
}

/** What the script needs from Debian: `--debian=` and names with commas between, before it. A database that is named is not ours to install. */
const [, wantedOfDebian = null] = /^--debian=(.+)$/.exec(process.argv[2]) ?? [];
const [script, ...args] = process.argv.slice(wantedOfDebian === null ? 2 : 3);
const debian = (wantedOfDebian?.split(',') ?? []).filter(
  (name) => name !== 'postgresql' || !process.env.DATABASE_URL,
);

const npmPackages = () =>
  new Promise((done) => {
    const why =
      'The npm packages could not be installed. Check the network and the free disk space, then try again.';
    const npm = spawn('npm', ['ci', '--no-audit', '--no-fund', '--loglevel=error'], {
      cwd: root,
      stdio: 'inherit',
    });
    npm.once('error', () => done(why));
    npm.once('exit', (code) => done(code === 0 ? null : why));
  });

const installed = join(root, 'node_modules', '.package-lock.json');
const wanted = join(root, 'package-lock.json');
if (!existsSync(installed) || statSync(installed).mtimeMs < statSync(wanted).mtimeMs) {
  console.log('Installing the npm packages …');
  // Both take a minute or two, and neither needs the other.
  const wrong = (await Promise.all([npmPackages(), installPackages(debian)])).filter((why) => why !== null);
  wrong.forEach((why) => console.error(why));
  if (wrong.length > 0) process.exit(1);
}

const child = spawn(process.execPath, ['--import', 'tsx', join(root, script), ...args], {
  cwd: root,
  stdio: 'inherit',
});
for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP']) process.on(signal, () => child.kill(signal));
child.on('exit', (code, signal) => process.exit(code ?? (signal === 'SIGINT' ? 130 : 1)));
