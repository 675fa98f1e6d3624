import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { compileKernels, KERNELS } from './setup/compile-kernels.js';

/** Compiles the AssemblyScript loops into modules that the code carries with it: `npm run kernels`. */
for (const { source, target } of Object.values(KERNELS)) {
  const text = await compileKernels(source);
  if (!existsSync(target) || readFileSync(target, 'utf8') !== text) writeFileSync(target, text);
}
