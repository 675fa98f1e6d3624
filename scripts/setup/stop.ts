/** Something that a person must put right before Bevrin can start; printed without a stack. */
export class CannotStart extends Error {
  override readonly name = 'CannotStart';
}

type Undo = () => Promise<unknown> | void;

/** What was started, to be stopped in the opposite order at the end, at Ctrl-C and at an error. */
export class Undoing {
  private readonly undos: Undo[] = [];
  private stopping: Promise<void> | null = null;

  add(undo: Undo): void {
    this.undos.push(undo);
  }

  all(): Promise<void> {
    this.stopping ??= (async () => {
      for (const undo of this.undos.reverse())
        await Promise.resolve(undo()).catch((error: unknown) => console.error(error));
    })();
    return this.stopping;
  }
}

/** Runs a command of the project: whatever it started is stopped when it ends, however it ends. */
export const runCommand = async (
  work: (undoing: Undoing) => Promise<number | 'until stopped'>,
): Promise<void> => {
  const undoing = new Undoing();
  const leave = (code: number) => (): void => void undoing.all().then(() => process.exit(code));
  process.on('SIGINT', leave(130));
  process.on('SIGTERM', leave(143));
  process.on('SIGHUP', leave(129));
  try {
    const code = await work(undoing);
    if (code !== 'until stopped') {
      await undoing.all();
      process.exit(code);
    }
  } catch (error) {
    await undoing.all();
    const expected =
      error instanceof Error && ['CannotStart', 'PortTaken', 'ToolMissing'].includes(error.name);
    const full = (error as { code?: string }).code === 'ENOSPC';
    console.error(
      full ? 'The disk is full. Free some space and try again.' : expected ? (error as Error).message : error,
    );
    process.exit(1);
  }
};
