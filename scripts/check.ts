import { spawn } from 'node:child_process';
import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { TEST_OPTIONS } from './setup/test-options.js';

/** What a change can break without a clip, a database or a browser: types, lint, and tests of what is pure. */
const AREAS = ['packages/core/src', 'packages/contract/src', 'apps/web/src'];
/** A test that imports one of these decodes, encodes or serves. */
const IMPURE = /from '@bevrin\/(media|rig|server)'|node:child_process/;

const testsIn = (folder: string): string[] =>
  readdirSync(folder, { recursive: true, encoding: 'utf8' })
    .filter((name) => name.endsWith('.test.ts'))
    .map((name) => join(folder, name));

const isPure = (path: string): boolean => !IMPURE.test(readFileSync(path, 'utf8'));

const run = (name: string, command: string, args: readonly string[], env = {}): Promise<boolean> => {
  const began = Date.now();
  const child = spawn(command, args, { env: { ...process.env, ...env }, stdio: ['ignore', 'pipe', 'pipe'] });
  let said = '';
  for (const stream of [child.stdout, child.stderr])
    stream.setEncoding('utf8').on('data', (text: string) => (said += text));
  return new Promise((done) =>
    child.once('close', (code) => {
      const seconds = Math.round((Date.now() - began) / 1000);
      console.log(`${code === 0 ? 'passed' : 'FAILED'}  ${name}, ${seconds} s`);
      if (code !== 0) console.log(said.trim());
      done(code === 0);
    }),
  );
};

const tests = AREAS.flatMap(testsIn).filter(isPure);
const passed = await Promise.all([
  run('types', 'npm', ['run', '--silent', 'typecheck']),
  run('lint', 'npm', ['run', '--silent', 'lint']),
  run('format', 'npm', ['run', '--silent', 'format:check']),
  run(
    `${tests.length} files of tests of what is pure`,
    process.execPath,
    ['node_modules/mocha/bin/mocha.js', '--parallel', '--jobs', '2', '--timeout', '120000', ...tests],
    { NODE_OPTIONS: TEST_OPTIONS, NODE_ENV: 'test' },
  ),
]);
process.exitCode = passed.every(Boolean) ? 0 : 1;
