import { CommanderError, type Command } from 'commander';
import { ClipUnreadable, DecoderStopped, ToolMissing } from '@bevrin/media';

/** Exit statuses of the commands. */
export const EXIT = { done: 0, unreadable: 1, usage: 2, failed: 3 } as const;

/** Where a command writes. */
export interface Streams {
  readonly stdout: { write(text: string): unknown };
  readonly stderr: { write(text: string): unknown; readonly isTTY?: boolean };
}

/**
 * Reads what was asked for; what is wrong with it, or help that was asked for, is said on the way.
 * @returns the exit status where there is nothing more to do
 */
export const parsed = (
  command: Command,
  args: readonly string[],
  { stdout, stderr }: Streams,
): number | null => {
  command
    .allowExcessArguments(false)
    .exitOverride()
    .configureOutput({ writeOut: (text) => stdout.write(text), writeErr: (text) => stderr.write(text) });
  try {
    command.parse(args, { from: 'user' });
    return null;
  } catch (error) {
    return error instanceof CommanderError && error.exitCode === 0 ? EXIT.done : EXIT.usage;
  }
};

/** Says what is being done on the last line of a terminal; saying nothing clears it. Where there is no terminal nothing is said. */
export const lastLine =
  ({ stderr }: Streams) =>
  (what: string): void => {
    if (stderr.isTTY) stderr.write(`\r${what}\x1b[K`);
  };

/** Something that was asked for does not say what it must. */
export class AskedUnusable extends Error {}

/**
 * The frames of `--range`, both inside.
 * @param example a range that reads
 * @throws {AskedUnusable}
 */
export const rangeFrom = (
  text: string | undefined,
  example: string,
): { startFrame: number; endFrame: number } | undefined => {
  if (text === undefined) return undefined;
  const drawn = /^(\d+)-(\d+)$/.exec(text);
  if (!drawn) throw new AskedUnusable(`--range ${text}: two frame numbers are expected, such as ${example}.`);
  return { startFrame: Number(drawn[1]), endFrame: Number(drawn[2]) };
};

/**
 * Says to a person what went wrong, in a line.
 * @param usage errors that come of what was asked for
 * @returns the exit status
 * @throws what cannot be told in a line
 */
export const sayWhy = (
  error: unknown,
  { stderr }: Streams,
  usage: readonly (new (...args: never[]) => Error)[],
): number => {
  if ([AskedUnusable, ...usage].some((kind) => error instanceof kind)) {
    stderr.write(`${(error as Error).message}\n`);
    return EXIT.usage;
  }
  if (error instanceof ClipUnreadable || error instanceof DecoderStopped || error instanceof ToolMissing) {
    stderr.write(`${error.message.replaceAll('\n', ' ')}\n`);
    return EXIT.unreadable;
  }
  throw error;
};
