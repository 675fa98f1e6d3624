import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import asc from 'assemblyscript/asc';

const SOURCE = join('packages', 'core', 'kernels', 'kernels.ts');
const PER_LINE = 100;

/** The text of `core/src/kernels/compiled.ts` as it must be for the source as it is. */
export const compileKernels = async (): Promise<string> => {
  let binary: Uint8Array | null = null;
  const { error, stderr } = await asc.main(
    [
      SOURCE,
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
  return `/** Written by \`npm run kernels\` from packages/core/kernels: WebAssembly with SIMD, as base64. */\nexport const COMPILED =\n${words.map((w) => `  '${w}'`).join(' +\n')};\n`;
};
