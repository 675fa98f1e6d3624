import { readFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import asc from 'assemblyscript/asc';

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

/** The text of the compiled module as it must be for the source as it is. */
export const compileKernels = async (source: string): Promise<string> => {
  let binary: Uint8Array | null = null;
  const { error, stderr } = await asc.main(
    [
      source,
      '--outFile',
      'kernels.wasm',
      '--runtime',
      'stub',
      '--initialMemory',
      '1',
      '-O3',
      '--noAssert',
      '--enable',
      'simd',
    ],
    {
      readFile: (name) => {
        try {
          return readFileSync(name, 'utf8');
        } catch {
          return null;
        }
      },
      writeFile: (_name, contents) => {
        if (typeof contents !== 'string') binary = contents;
      },
      listFiles: () => [],
    },
  );
  if (error || !binary) throw new Error(stderr.toString() || String(error));
  const words =
    Buffer.from(binary)
      .toString('base64')
      .match(new RegExp(`.{1,${PER_LINE}}`, 'g')) ?? [];
  return `/** Written by \`npm run kernels\` from ${dirname(source)}: WebAssembly with SIMD, as base64. */\nexport const COMPILED =\n${words.map((w) => `  '${w}'`).join(' +\n')};\n`;
};
