import { mkdir } from 'node:fs/promises';
import { availableParallelism } from 'node:os';
import { Command } from 'commander';
import { Sweep, Trial, type Step } from '@bevrin/contract';
import { SettingUnusable, TreatmentUnusable } from '@bevrin/core';
import { TrialUnusable, tryTreatment } from '@bevrin/media';
import { DEFAULT_SPEC, findSpec, SpecUnusable } from '@bevrin/specs';
import { AskedUnusable, EXIT, lastLine, parsed, rangeFrom, sayWhy, type Streams } from './asked.js';
import { asTrialTable } from './trial-table.js';

const described = (): Command =>
  new Command('try')
    .description(
      'Tries a treatment, or a whole plan, on some frames of a clip: what it gains, and what it harms.',
    )
    .argument('<clip>', 'a media file, a folder of numbered stills, or a pattern such as shot.%04d.png')
    .option('--treatment <name>', 'the treatment, as the plan names it')
    .option('--settings <json>', 'settings of the treatment; the others as the plan has them')
    .option(
      '--sweep <key=values>',
      'a setting and the values to compare, such as framesEachSide=1,2,4; given twice: each with each',
      (text: string, given: readonly string[] = []) => [...given, text],
    )
    .option('--range <start-end>', 'frames that are treated, both inside, counted from 0')
    .option('--plan', 'all steps of the plan in their order')
    .option('--spec <id|file>', 'delivery spec: a shipped one by id, or a JSON file', DEFAULT_SPEC)
    .option('--out <folder>', 'keep the frames of each run there')
    .option('--json', 'print the trial as JSON');

interface Options {
  treatment?: string;
  settings?: string;
  sweep?: string[];
  range?: string;
  plan?: boolean;
  spec: string;
  out?: string;
  json?: boolean;
}

const settingsFrom = (text: string | undefined): Step['settings'] | undefined => {
  if (text === undefined) return undefined;
  try {
    const read: unknown = JSON.parse(text);
    if (typeof read === 'object' && read !== null && !Array.isArray(read)) return read as Step['settings'];
  } catch {
    // Said below.
  }
  throw new AskedUnusable(`--settings ${text}: JSON is expected, such as {"framesEachSide":2}.`);
};

const valueFrom = (text: string): number | string | boolean =>
  text === 'true' || text === 'false'
    ? text === 'true'
    : text !== '' && !isNaN(Number(text))
      ? Number(text)
      : text;

const sweepFrom = (texts: readonly string[] | undefined): Sweep | undefined => {
  if (texts === undefined) return undefined;
  const [first, and, ...more] = texts.map(valuesFrom);
  if (more.length > 0) throw new AskedUnusable('--sweep: two settings at most are compared with each other.');
  const sweep = Sweep.safeParse(and ? { ...first, and } : first);
  if (!sweep.success) throw new AskedUnusable(`--sweep: ${sweep.error.issues[0].message}`);
  return sweep.data;
};

const valuesFrom = (text: string): { key: string; values: (number | string | boolean)[] } => {
  const [, key, values] = /^([A-Za-z]+)=(.+)$/.exec(text) ?? [];
  if (!key)
    throw new AskedUnusable(
      `--sweep ${text}: a setting and its values are expected, such as framesEachSide=1,2,4.`,
    );
  return { key, values: values.split(',').map(valueFrom) };
};

const treatmentFrom = ({ treatment, plan, settings, sweep }: Options): string | null => {
  if (plan && (treatment ?? settings ?? sweep) !== undefined)
    throw new AskedUnusable(
      '--plan takes every step as the plan has it: leave --treatment, --settings and --sweep out.',
    );
  if (!plan && treatment === undefined)
    throw new AskedUnusable('Name a --treatment, or take the whole --plan.');
  return treatment ?? null;
};

/**
 * Runs the command.
 * @param args what follows its name
 * @returns the exit status
 */
export const run = async (args: readonly string[], streams: Streams = process): Promise<number> => {
  const command = described();
  const ended = parsed(command, args, streams);
  if (ended !== null) return ended;
  const say = lastLine(streams);
  const options = command.opts<Options>();
  try {
    const order = {
      treatment: treatmentFrom(options),
      settings: settingsFrom(options.settings),
      sweep: sweepFrom(options.sweep),
      range: rangeFrom(options.range, '0-24'),
      spec: await findSpec(options.spec),
      out: options.out,
    };
    if (order.out !== undefined) await mkdir(order.out, { recursive: true });
    const trial = Trial.parse(
      await tryTreatment(command.args[0], {
        ...order,
        threads: availableParallelism(),
        progress: (_share, what) => say(what),
      }),
    );
    say('');
    streams.stdout.write(`${options.json ? JSON.stringify(trial) : asTrialTable(trial)}\n`);
    return EXIT.done;
  } catch (error) {
    return sayWhy(error, streams, [SpecUnusable, SettingUnusable, TreatmentUnusable, TrialUnusable]);
  }
};
