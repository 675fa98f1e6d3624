import { copyFileSync, cpSync, existsSync, mkdirSync, readdirSync, symlinkSync } from 'node:fs';
import { join, resolve } from 'node:path';

/** What the sources are made of; everything else is built from it, or not needed in a copy. */
const COPIED = ['apps', 'packages', 'scripts', 'specs', 'types', 'tests'];
const FILES = ['package.json', 'package-lock.json', 'tsconfig.json', 'tsconfig.base.json'];

/**
 * A copy of the sources that runs by itself: the packages of others as they are, those of the house from the copy. Run
 * from the root of the repository.
 * @param root an empty folder
 */
export const copySources = (root: string): void => {
  const skipped = /(^|\/)(node_modules|dist|var|\.cache)$/;
  for (const part of COPIED)
    cpSync(part, join(root, part), { recursive: true, filter: (from) => !skipped.test(from) });
  for (const file of FILES) copyFileSync(file, join(root, file));
  mkdirSync(join(root, 'node_modules', '@bevrin'), { recursive: true });
  for (const name of readdirSync('node_modules').filter((n) => n !== '@bevrin'))
    symlinkSync(resolve('node_modules', name), join(root, 'node_modules', name));
  for (const folder of ['packages', 'apps'])
    for (const name of readdirSync(folder)) {
      symlinkSync(join(root, folder, name), join(root, 'node_modules', '@bevrin', name));
      const own = resolve(folder, name, 'node_modules');
      if (existsSync(own)) symlinkSync(own, join(root, folder, name, 'node_modules'));
    }
};
