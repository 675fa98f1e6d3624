// Starts a command from one built file, so that it answers at once. Plain JavaScript: nothing is compiled on the way.
import { existsSync, mkdirSync, readdirSync, renameSync, statSync, writeFileSync } from 'node:fs';
import { basename, dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';

const here = dirname(fileURLToPath(import.meta.url));
const root = join(here, '..', '..');
const dist = join(here, 'dist');
const SOURCES = [
  'packages/contract/src',
  'packages/core/src',
  'packages/media/src',
  'packages/specs/src',
  'apps/cli/src',
  'apps/cli/start.mjs',
  'package-lock.json',
];
const COMMANDS = ['measure', 'try', 'recheck'];
const THREADS = ['reader/thread', 'trial/run-thread'];
const ENTRIES = [
  ...COMMANDS.map((name) => join(here, 'src', `${name}.ts`)),
  ...THREADS.map((name) => join(root, 'packages', 'media', 'src', `${name}.ts`)),
];

const newest = (path) => {
  const found = statSync(path);
  return found.isDirectory()
    ? Math.max(0, ...readdirSync(path).map((name) => newest(join(path, name))))
    : found.mtimeMs;
};

/** Built last: where it is newer than the sources, so is all the rest. */
const LAST = `${COMMANDS[COMMANDS.length - 1]}.js`;

const isBuilt = () =>
  [...COMMANDS, ...THREADS].every((name) => existsSync(join(dist, `${basename(name)}.js`))) &&
  statSync(join(dist, LAST)).mtimeMs > Math.max(...SOURCES.map((path) => newest(join(root, path))));

const build = async () => {
  const { build: bundle } = await import('esbuild');
  const { outputFiles } = await bundle({
    entryPoints: ENTRIES,
    outdir: dist,
    entryNames: '[name]',
    bundle: true,
    write: false,
    platform: 'node',
    target: 'node20',
    format: 'esm',
    minifySyntax: true,
    // Packages that are not modules ask for others by `require`.
    banner: {
      js: "import { createRequire as requireFrom } from 'node:module'; const require = requireFrom(import.meta.url);",
    },
  });
  mkdirSync(dist, { recursive: true });
  // Aside first: another that starts at the same moment reads whole files. The program comes last, as it is looked at.
  for (const { path, contents } of outputFiles.toSorted((a) => (basename(a.path) === LAST ? 1 : -1))) {
    writeFileSync(`${path}.${process.pid}`, contents);
    renameSync(`${path}.${process.pid}`, path);
  }
};

/** Runs a command of this folder; builds it before, where its sources are newer. */
export const start = async (name) => {
  if (!isBuilt()) await build();
  await import(join(dist, `${name}.js`));
};
