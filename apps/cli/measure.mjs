// Starts the command from one built file, so that it answers at once. Plain JavaScript: nothing is compiled on the way.
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
  'apps/cli/measure.mjs',
  'package-lock.json',
];
const ENTRIES = [
  join(here, 'src', 'measure.ts'),
  join(root, 'packages', 'media', 'src', 'reader', 'thread.ts'),
];

const newest = (path) => {
  const found = statSync(path);
  return found.isDirectory()
    ? Math.max(0, ...readdirSync(path).map((name) => newest(join(path, name))))
    : found.mtimeMs;
};

const program = join(dist, 'measure.js');
const isBuilt =
  existsSync(program) &&
  existsSync(join(dist, 'thread.js')) &&
  statSync(program).mtimeMs > Math.max(...SOURCES.map((path) => newest(join(root, path))));

if (!isBuilt) {
  const { build } = await import('esbuild');
  const { outputFiles } = await build({
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
  for (const { path, contents } of outputFiles.toSorted((a) =>
    basename(a.path) === 'measure.js' ? 1 : -1,
  )) {
    writeFileSync(`${path}.${process.pid}`, contents);
    renameSync(`${path}.${process.pid}`, path);
  }
}
await import(program);
