import { spawnSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, readFileSync, rmSync, symlinkSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { copySources } from '../tests/support/source-copy.js';

/**
 * Prints how the accuracy tables move when each of the thresholds that decide most is a fifth lower or higher:
 * `npm run sensitivity`. None of them may be a knife's edge. Works on a copy of the sources; takes about half an hour, or
 * less for some of them: `npm run sensitivity -- MOST_LEFT AGREED`.
 */
const MEASURES = 'packages/core/src/measures';
const THRESHOLDS: readonly (readonly [file: string, name: string, measure: string])[] = [
  ['flicker/exposure.ts', 'MOST_LEFT', 'flicker'],
  ['flicker/exposure.ts', 'STANDS_OUT', 'flicker'],
  ['flicker/pattern.ts', 'REGULAR', 'flicker'],
  ['hot-pixels/faulty-pixels/isolation.ts', 'ON_EVEN_GROUND', 'hotPixels'],
  ['hot-pixels/faulty-pixels/isolation.ts', 'ROUND', 'hotPixels'],
  ['hot-pixels/faulty-pixels/stays-put.ts', 'OUT_OF_MEAN', 'hotPixels'],
  ['hot-pixels/faulty-pixels/stays-put.ts', 'LEAST_ODDS', 'hotPixels'],
  ['hot-pixels/lens-spots/lens-spots.ts', 'LEAST_DEPTH', 'hotPixels'],
  ['banding/staircase.ts', 'QUIET', 'banding'],
  ['banding/banding.ts', 'AGREED', 'banding'],
  ['moire/alias.ts', 'FITS', 'moire'],
  ['moire/peak.ts', 'STANDS_OUT', 'moire'],
  ['softness/edge.ts', 'HOLDS', 'softness'],
  ['softness/softness.ts', 'SHARPEST_PARTS', 'softness'],
];
const CHANGES = [0.8, 1, 1.2];

const [, , measureOfChild] = process.argv;
if (process.env.BEVRIN_SENSITIVITY && measureOfChild) {
  const { ACCURACY_CASES } = await import('../tests/accuracy/cases.js');
  const { outcomesOf } = await import('../tests/accuracy/run.js');
  let [kept, met, all] = [0, 0, 0];
  for (const one of ACCURACY_CASES.filter((c) => c.measure === measureOfChild))
    for (const { within } of await outcomesOf(one)) {
      all++;
      if (within !== 'neither') kept++;
      if (within === 'goal') met++;
    }
  console.log(JSON.stringify({ kept, met, all }));
} else {
  const wanted = process.argv.slice(2);
  const root = mkdtempSync(join(tmpdir(), 'bevrin-sensitivity-'));
  try {
    copySources(root);
    mkdirSync('.cache', { recursive: true });
    symlinkSync(resolve('.cache'), join(root, '.cache'));
    console.log('threshold'.padEnd(58), ...CHANGES.map((c) => `× ${c}: bar, goal`.padEnd(22)));
    for (const [file, name, measure] of THRESHOLDS.filter(
      (t) => wanted.length === 0 || wanted.includes(t[1]),
    )) {
      const path = join(root, MEASURES, file);
      const source = readFileSync(path, 'utf8');
      const stated = new RegExp(`const ${name} = ([0-9.]+);`).exec(source);
      if (!stated) throw new Error(`${file} states no threshold ${name}.`);
      const counts = CHANGES.map((change) => {
        writeFileSync(path, source.replace(stated[0], `const ${name} = ${Number(stated[1]) * change};`));
        const { stdout, stderr } = spawnSync(
          process.execPath,
          ['--import', 'tsx', join('scripts', 'sensitivity.ts'), measure],
          { cwd: root, encoding: 'utf8', env: { ...process.env, BEVRIN_SENSITIVITY: '1' } },
        );
        const line = stdout.trim().split('\n').at(-1) ?? '';
        if (!line.startsWith('{')) throw new Error(`${name} × ${change}: ${stderr.slice(-400)}`);
        const { kept, met, all } = JSON.parse(line) as Record<'kept' | 'met' | 'all', number>;
        return `${kept}, ${met} of ${all}`.padEnd(22);
      });
      writeFileSync(path, source);
      console.log(`${file} ${name} ${stated[1]}`.padEnd(58), ...counts);
    }
  } finally {
    rmSync(root, { recursive: true, force: true });
  }
}
