// Bundles programs into one built file each, so that they start at once. Plain JavaScript: commands begin with it, and nothing
// is compiled on the way.
import { existsSync, mkdirSync, readdirSync, renameSync, statSync, writeFileSync } from 'node:fs';
import { basename, join } from 'node:path';

/** See bundle.d.mts. */
export const newest = (path) => {
  const found = statSync(path);
  return found.isDirectory()
    ? Math.max(0, ...readdirSync(path).map((name) => newest(join(path, name))))
    : found.mtimeMs;
};

/** See bundle.d.mts. */
export const bundled = async ({ entries, dist, sources, external = [] }) => {
  const files = Object.keys(entries).map((name) => join(dist, `${name}.js`));
  // Built last: where it is newer than the sources, so is all the rest.
  const last = files[0];
  if (files.every((file) => existsSync(file)) && statSync(last).mtimeMs > Math.max(...sources.map(newest)))
    return;
  const { build } = await import('esbuild');
  const { outputFiles } = await build({
    entryPoints: entries,
    outdir: dist,
    entryNames: '[name]',
    bundle: true,
    write: false,
    platform: 'node',
    target: 'node20',
    format: 'esm',
    minifySyntax: true,
    external,
    // Packages that are not modules ask for others by `require`.
    banner: {
      js: "import { createRequire as requireFrom } from 'node:module'; const require = requireFrom(import.meta.url);",
    },
  });
  mkdirSync(dist, { recursive: true });
  // Aside first: another that starts at the same moment reads whole files.
  for (const { path, contents } of outputFiles.toSorted((a) =>
    basename(a.path) === basename(last) ? 1 : -1,
  )) {
    writeFileSync(`${path}.${process.pid}`, contents);
    renameSync(`${path}.${process.pid}`, path);
  }
};
