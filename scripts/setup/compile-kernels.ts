import { execFile } from 'node:child_process';
import { createHash } from 'node:crypto';
import { mkdtemp, readFile, rm } from 'node:fs/promises';
import { createRequire } from 'node:module';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { promisify } from 'node:util';

/** Where the AssemblyScript of a workspace stands, and where what is compiled from it goes. */
export const KERNELS = {
  core: {
    source: join('packages', 'core', 'kernels', 'kernels.ts'),
    target: join('packages', 'core', 'src', 'kernels', 'compiled.ts'),
  },
  treatments: {
    source: join('packages', 'core', 'kernels', 'treatments.ts'),
    target: join('packages', 'core', 'src', 'treatments', 'compiled.ts'),
  },
  rig: {
    source: join('packages', 'rig', 'kernels', 'kernels.ts'),
    target: join('packages', 'rig', 'src', 'camera', 'compiled.ts'),
  },
};
const PER_LINE = 100;
const HOW = ['--runtime', 'stub', '--initialMemory', '1', '-O3', '--noAssert', '--enable', 'simd'];

const run = promisify(execFile);
const COMPILER = createRequire(import.meta.url).resolve('assemblyscript/bin/asc.js');

/**
 * The text of the compiled module as it must be for the source as it is. The compiler runs in a process of its own, to
 * which nobody loads TypeScript: its 14 MB would be looked through for it.
 * @throws what the compiler says is wrong with the source
 */
export const compileKernels = async (source: string): Promise<string> => {
  const folder = await mkdtemp(join(tmpdir(), 'bevrin-kernels-'));
  const binary = join(folder, 'kernels.wasm');
  try {
    await run(process.execPath, [COMPILER, source, '--outFile', binary, ...HOW], {
      env: { ...process.env, NODE_OPTIONS: '' },
    });
    return inWords(await readFile(binary), source, await markOf(source));
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
};

/** What the text of a compiled module says of its source and how it is compiled: differs where either does. */
export const markOf = async (source: string): Promise<string> =>
  createHash('sha256')
    .update(await readFile(source))
    .update(JSON.stringify(HOW))
    .digest('hex');

const inWords = (binary: Buffer, source: string, mark: string): string => {
  const words = binary.toString('base64').match(new RegExp(`.{1,${PER_LINE}}`, 'g')) ?? [];
  return [
    `/** Written by \`npm run kernels\` from ${dirname(source)}: WebAssembly with SIMD, as base64. Source and options: ${mark} */`,
    `export const COMPILED =\n${words.map((w) => `  '${w}'`).join(' +\n')};\n`,
  ].join('\n');
};
