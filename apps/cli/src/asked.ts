import { ClipUnreadable, DecoderStopped, ToolMissing } from '@bevrin/media';

/** Exit statuses of the commands. */
export const EXIT = { done: 0, unreadable: 1, usage: 2, failed: 3 } as const;

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
export const sayWhy = (error: unknown, usage: readonly (new (...args: never[]) => Error)[]): number => {
  if ([AskedUnusable, ...usage].some((kind) => error instanceof kind)) {
    process.stderr.write(`${(error as Error).message}\n`);
    return EXIT.usage;
  }
  if (error instanceof ClipUnreadable || error instanceof DecoderStopped || error instanceof ToolMissing) {
    process.stderr.write(`${error.message.replaceAll('\n', ' ')}\n`);
    return EXIT.unreadable;
  }
  throw error;
};
