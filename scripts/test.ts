import { spawn } from 'node:child_process';
import { mkdirSync, readdirSync, rmSync } from 'node:fs';
import { join, resolve } from 'node:path';
import { installPackages } from './setup/debian.mjs';
import { holderOf, takeFolder } from './setup/folder-lock.js';
import { removePostgres, startPostgres } from './setup/postgres.js';
import { buildServer } from './setup/server-build.js';
import { CannotStart, runCommand, type Undoing } from './setup/stop.js';
import { TEST_OPTIONS } from './setup/test-options.js';
import { buildWeb } from './setup/web-build.js';

interface Tally {
  passed: number;
  failed: number;
}

const MOCHA = ['node_modules/mocha/bin/mocha.js', '--reporter', 'spec', '--timeout', '240000', '--exit'];
/**
 * Four files at a time, the next as soon as one is through: what waits for servers and pages leaves room for more. What
 * takes longest begins first, and what is pure fills the end.
 */
const TESTS = [
  ...['--parallel', '--jobs', '4'],
  'tests/ninth-measure/*.test.ts',
  'apps/server/**/*.test.ts',
  'tests/e2e/**/*.test.ts',
  'scripts/**/*.test.ts',
  'tests/accuracy/**/*.test.ts',
  'tests/trials/**/*.test.ts',
  'tests/recheck/**/*.test.ts',
  'tests/support/**/*.test.ts',
  'apps/cli/**/*.test.ts',
  'packages/**/*.test.ts',
  'apps/web/**/*.test.ts',
];

/** Runs a command and returns what it printed, which is shown at once unless it is to be quiet. */
const run = (
  command: string,
  args: readonly string[],
  environment: NodeJS.ProcessEnv = {},
  quiet = false,
): Promise<{ code: number; output: string }> =>
  new Promise((done) => {
    const child = spawn(command, args, {
      env: { ...process.env, ...environment },
      stdio: ['ignore', 'pipe', 'inherit'],
    });
    let output = '';
    child.stdout.setEncoding('utf8').on('data', (text: string) => {
      output += text;
      if (!quiet) process.stdout.write(text);
    });
    child.once('close', (code) => done({ code: code ?? 1, output }));
  });

const countIn = (output: string, word: string): number =>
  Number(new RegExp(`^\\s*(\\d+) ${word}\\b`, 'm').exec(output)?.[1] ?? 0);

/** A check that is right as a whole or wrong as a whole. */
const check = async (
  name: string,
  args: readonly string[],
  tally: Tally,
  environment: NodeJS.ProcessEnv = {},
): Promise<void> => {
  const { code, output } = await run('npm', ['run', '--silent', ...args], environment, true);
  console.log(`\n— ${name}\n${output}`);
  tally[code === 0 ? 'passed' : 'failed']++;
};

const tests = async (environment: NodeJS.ProcessEnv, tally: Tally): Promise<void> => {
  console.log('\n— unit, accuracy, integration and browser tests');
  const { code, output } = await run(process.execPath, [...MOCHA, ...TESTS], environment);
  const failed = countIn(output, 'failing');
  tally.passed += countIn(output, 'passing');
  // A runner that died has failed, whatever it counted.
  tally.failed += code !== 0 && failed === 0 ? 1 : failed;
};

/** A folder for this run alone: two may run side by side. What runs that crashed left behind goes. */
const testFolder = async (undoing: Undoing): Promise<string> => {
  const all = resolve('var', 'test');
  mkdirSync(all, { recursive: true });
  const remove = async (folder: string): Promise<void> => {
    await removePostgres(join(folder, 'postgres'));
    rmSync(folder, { recursive: true, force: true });
  };
  for (const name of readdirSync(all).filter((n) => n.startsWith('run-')))
    if (holderOf(join(all, name)) === null) await remove(join(all, name));
  const home = join(all, `run-${process.pid}-${Date.now()}`);
  takeFolder(home);
  undoing.add(() => remove(home));
  return home;
};

await runCommand(async (undoing) => {
  const tally: Tally = { passed: 0, failed: 0 };
  const all = process.argv.includes('--all');
  const checks = Promise.all([
    check('type check', ['typecheck'], tally),
    check('lint', ['lint'], tally, all ? {} : { BEVRIN_LINT: 'quick' }),
    ...(all ? [check('format', ['format:check'], tally)] : []),
  ]);
  const why = await installPackages(['ffmpeg', 'postgresql', 'chromium']);
  if (why !== null) throw new CannotStart(why);
  const home = await testFolder(undoing);
  const postgres = await startPostgres(join(home, 'postgres'), { careless: true });
  undoing.add(() => postgres.stop());
  const [threads] = await Promise.all([buildServer(), buildWeb()]);
  const environment = {
    NODE_OPTIONS: TEST_OPTIONS,
    TEST_DATABASE_URL: postgres.url,
    NODE_ENV: 'test',
    BEVRIN_THREADS: threads,
    // Otherwise tests take a share of their long sets.
    BEVRIN_TEST_ALL: all ? '1' : '',
  };
  // Lint takes one processor for a while: the tests need not wait for it.
  await Promise.all([tests(environment, tally), checks]);
  console.log(`\n${tally.passed} passed, ${tally.failed} failed`);
  return tally.failed === 0 ? 0 : 1;
});
