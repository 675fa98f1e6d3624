import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import {
  mkdirSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  rmSync,
  symlinkSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { copySources } from '../tests/support/source-copy.js';
import { DECIDING, MEASURES, statedIn } from './deciding.js';

/**
 * Prints how the accuracy tables move when each of the thresholds that decide most is a fifth lower or higher:
 * `npm run sensitivity`. None of them may be a knife's edge. Works on a copy of the sources; takes about half an hour, or
 * less for some of them: `npm run sensitivity -- MOST_LEFT AGREED`.
 *
 * `npm run sensitivity -- --every FOLDER` halves and doubles every threshold of one folder of measures instead, such as
 * `flicker` or `hot-pixels/faulty-pixels`: what moves no reading may go.
 */

/** What the clips of one measure read, as the child process tells it in one line. */
interface Tables {
  readonly kept: number;
  readonly met: number;
  readonly all: number;
  /** The same only where every value is. */
  readonly read: string;
}

const tablesOf = async (measure: string): Promise<Tables> => {
  const { ACCURACY_CASES } = await import('../tests/accuracy/cases.js');
  const { outcomesOf } = await import('../tests/accuracy/run.js');
  let [kept, met] = [0, 0];
  const values: unknown[] = [];
  for (const one of ACCURACY_CASES.filter((c) => c.measure === measure))
    for (const { within, value } of await outcomesOf(one)) {
      values.push(value);
      if (within !== 'neither') kept++;
      if (within === 'goal') met++;
    }
  if (values.length === 0) throw new Error(`No clip of the tables tries ${measure}.`);
  const read = createHash('sha256').update(JSON.stringify(values)).digest('hex');
  return { kept, met, all: values.length, read };
};

/** Name of the measure whose cases try the thresholds of a file: the read-out is read off clips that shake. */
const measureOf = (file: string): string => {
  const measure = file.split('/')[0].replace(/-([a-z])/g, (_, letter: string) => letter.toUpperCase());
  return measure === 'rollingShutter' ? 'shake' : measure;
};

/** The tables with one threshold so many times as large. */
const tablesWith = (root: string, file: string, name: string, change: number): Tables => {
  const path = join(root, MEASURES, file);
  const source = readFileSync(path, 'utf8');
  const [words, figure] = statedIn(source, name);
  const moved = Number(figure.replaceAll('_', '')) * change;
  writeFileSync(path, source.replace(words, `const ${name} = ${moved};`));
  const { stdout, stderr } = spawnSync(
    process.execPath,
    ['--import', 'tsx', join('scripts', 'sensitivity.ts'), measureOf(file)],
    { cwd: root, encoding: 'utf8', env: { ...process.env, BEVRIN_SENSITIVITY: '1' } },
  );
  writeFileSync(path, source);
  const line = stdout.trim().split('\n').at(-1) ?? '';
  if (!line.startsWith('{')) throw new Error(`${name} × ${change}: ${stderr.slice(-400)}`);
  return JSON.parse(line) as Tables;
};

/** Every threshold that the files of a folder state, deep down too. */
const everyIn = (folder: string): [file: string, name: string][] =>
  readdirSync(join(MEASURES, folder), { recursive: true, encoding: 'utf8' })
    .filter((name) => name.endsWith('.ts') && !name.endsWith('.test.ts'))
    .sort()
    .flatMap((name) => {
      const file = join(folder, name);
      const source = readFileSync(join(MEASURES, file), 'utf8');
      return Array.from(source.matchAll(/^(?:export )?const ([A-Z_0-9]+) = [0-9._]+;/gm), ([, constant]) => [
        file,
        constant,
      ]) as [string, string][];
    });

const printed = (
  root: string,
  thresholds: readonly (readonly [file: string, name: string])[],
  changes: readonly number[],
): void => {
  console.log('threshold'.padEnd(62), ...changes.map((c) => `× ${c}: bar, goal`.padEnd(22)));
  const plain = new Map<string, Tables>();
  for (const [file, name] of thresholds) {
    const measure = measureOf(file);
    const asIs = plain.get(measure) ?? tablesWith(root, file, name, 1);
    plain.set(measure, asIs);
    const tables = changes.map((change) => (change === 1 ? asIs : tablesWith(root, file, name, change)));
    const [, figure] = statedIn(readFileSync(join(MEASURES, file), 'utf8'), name);
    console.log(
      `${file} ${name} ${figure}`.padEnd(62),
      ...tables.map(({ kept, met, all }) => `${kept}, ${met} of ${all}`.padEnd(22)),
      tables.every(({ read }) => read === asIs.read) ? 'moves nothing' : '',
    );
  }
};

const wanted = process.argv.slice(2);
if (process.env.BEVRIN_SENSITIVITY) console.log(JSON.stringify(await tablesOf(wanted[0])));
else {
  const root = mkdtempSync(join(tmpdir(), 'bevrin-sensitivity-'));
  try {
    copySources(root);
    mkdirSync('.cache', { recursive: true });
    symlinkSync(resolve('.cache'), join(root, '.cache'));
    const named = DECIDING.filter(([, name]) => wanted.length === 0 || wanted.includes(name));
    if (wanted[0] === '--every') printed(root, wanted.slice(1).flatMap(everyIn), [0.5, 2]);
    else printed(root, named, [0.8, 1, 1.2]);
  } finally {
    rmSync(root, { recursive: true, force: true });
  }
}
