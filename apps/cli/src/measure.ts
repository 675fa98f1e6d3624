import { readFile } from 'node:fs/promises';
import { Command } from 'commander';
import { MeasureDocument, Overrides } from '@bevrin/contract';
import { CubeUnusable, scoreMeasurement } from '@bevrin/core';
import { measureClip } from '@bevrin/media';
import { DEFAULT_SPEC, findSpec, SpecUnusable } from '@bevrin/specs';
import { AskedUnusable, EXIT, parsed, rangeFrom, sayWhy, type Streams } from './asked.js';
import { asTable } from './table.js';

const described = (): Command =>
  new Command('measure')
    .description('Measures one clip and judges it against a delivery spec.')
    .argument('<clip>', 'a media file, a folder of numbered stills, or a pattern such as shot.%04d.png')
    .option('--spec <id|file>', 'delivery spec: a shipped one by id, or a JSON file', DEFAULT_SPEC)
    .option('--range <start-end>', 'measure these frames only, both inside, counted from 0')
    .option(
      '--overrides <file>',
      'what a technician decided: masks, patch, intent, viewing transform, as JSON',
    )
    .option('--json', 'print the measure document as JSON')
    .option('--gate', 'exit with status 3 when the verdict is fail');

const progressLine = ({ stderr }: Streams): ((share: number) => void) => {
  if (!stderr.isTTY) return () => undefined;
  let shown = -1;
  return (share) => {
    const percent = Math.floor(share * 100);
    if (percent !== shown)
      stderr.write(`\rmeasuring ${(shown = percent)} %${percent === 100 ? '\r\x1b[K' : ''}`);
  };
};

const overridesFrom = async (options: { range?: string; overrides?: string }): Promise<Overrides> => {
  const { range, overrides: file } = options;
  const drawn = rangeFrom(range, '0-99');
  const text = file === undefined ? '{}' : await readFile(file, 'utf8').catch(() => null);
  if (text === null) throw new AskedUnusable(`${file}: there is no such file. Check the path.`);
  let written: unknown;
  try {
    written = JSON.parse(text);
  } catch {
    throw new AskedUnusable(`${file}: it is not JSON. Export it again.`);
  }
  const parsed = Overrides.safeParse({
    ...(written as object),
    ...(drawn && { range: drawn }),
  });
  if (parsed.success) return parsed.data;
  const [issue] = parsed.error.issues;
  throw new AskedUnusable(`${file ?? '--range'}: ${issue.path.join('.')}: ${issue.message}.`);
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
  const options = command.opts<{
    spec: string;
    range?: string;
    overrides?: string;
    json?: boolean;
    gate?: boolean;
  }>();
  try {
    const overrides = await overridesFrom(options);
    const spec = await findSpec(options.spec);
    const measurement = await measureClip(command.args[0], { overrides, progress: progressLine(streams) });
    const document = MeasureDocument.parse({ ...measurement, ...scoreMeasurement(measurement, spec) });
    streams.stdout.write(`${options.json ? JSON.stringify(document) : asTable(document)}\n`);
    return options.gate && document.verdict === 'fail' ? EXIT.failed : EXIT.done;
  } catch (error) {
    return sayWhy(error, streams, [SpecUnusable, CubeUnusable]);
  }
};
