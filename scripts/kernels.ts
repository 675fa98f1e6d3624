import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { compileKernels } from './setup/compile-kernels.js';

/** Compiles the AssemblyScript loops of core into a module that it carries with it: `npm run kernels`. */
const target = join('packages', 'core', 'src', 'kernels', 'compiled.ts');
const text = await compileKernels();
if (readFileSync(target, 'utf8') !== text) writeFileSync(target, text);
