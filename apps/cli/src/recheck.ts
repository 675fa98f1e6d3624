import { readFile } from 'node:fs/promises';
import { Command } from 'commander';
import { z } from 'zod';
import { Recheck, Step } from '@bevrin/contract';
import { recheckClips } from '@bevrin/media';
import { DEFAULT_SPEC, findSpec, SpecUnusable } from '@bevrin/specs';
import { AskedUnusable, EXIT, lastLine, parsed, sayWhy, type Streams } from './asked.js';
import { asRecheckTable } from './recheck-table.js';

const described = (): Command =>
  new Command('recheck')
    .description(
      'Proves a repaired file against its original: is the fault gone, and was anything else harmed?',
    )
    .argument('<original>', 'the file as it came')
    .argument('<repaired>', 'the file that came back')
    .option('--spec <id|file>', 'delivery spec: a shipped one by id, or a JSON file', DEFAULT_SPEC)
    .option(
      '--plan <file>',
      'the plan that it was made by, as JSON; the one that is proposed where none is named',
    )
    .option('--json', 'print the recheck as JSON')
    .option('--gate', `exit with ${EXIT.failed} when it must go back`);

const StepDone = Step.pick({ treatment: true, defect: true, expect: true });
const Steps = z.array(z.looseObject(StepDone.shape));
/** A plan by itself, a document of the measure command, or a report, which holds one. */
const PlanFile = z.union([
  Steps,
  z.looseObject({ steps: Steps }).transform((p) => p.steps),
  z.looseObject({ plan: z.looseObject({ steps: Steps }) }).transform((p) => p.plan.steps),
]);

const stepsFrom = async (file: string | undefined): Promise<z.infer<typeof StepDone>[] | undefined> => {
  if (file === undefined) return undefined;
  const text = await readFile(file, 'utf8').catch(() => {
    throw new AskedUnusable(`--plan ${file}: it cannot be read. Name a file with a plan as JSON.`);
  });
  let json: unknown;
  try {
    json = JSON.parse(text);
  } catch {
    throw new AskedUnusable(`--plan ${file}: it is no JSON. Export the plan again.`);
  }
  const read = PlanFile.safeParse(json);
  if (read.success) return read.data.map((step) => StepDone.parse(pick(step)));
  throw new AskedUnusable(
    `--plan ${file}: it holds no plan: steps with a treatment, a defect and what is expected. Export it again.`,
  );
};

const pick = ({ treatment, defect, expect }: z.infer<typeof Steps>[number]): unknown => ({
  treatment,
  defect,
  expect,
});

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
  const options = command.opts<{ spec: string; plan?: string; json?: boolean; gate?: boolean }>();
  const [original, repaired] = command.args;
  try {
    const { recheck } = await recheckClips(original, repaired, {
      spec: await findSpec(options.spec),
      steps: await stepsFrom(options.plan),
      progress: (_share, what) => say(what),
    });
    say('');
    const document = Recheck.parse(recheck);
    streams.stdout.write(`${options.json ? JSON.stringify(document) : asRecheckTable(document)}\n`);
    return options.gate && document.verdict === 'sendBack' ? EXIT.failed : EXIT.done;
  } catch (error) {
    return sayWhy(error, streams, [SpecUnusable]);
  }
};
