import { spawn, type ChildProcess, type SpawnOptions } from 'node:child_process';
import { ToolMissing } from './errors.js';

type Tool = 'ffmpeg' | 'ffprobe';

/** Enough of what a tool writes to its standard error to say what is wrong; it may go on for an hour. */
const KEPT_STDERR = 16_384;
/** A tool that only reads a header, or one frame, and takes longer than this is stuck. */
const SHORT_RUN_MS = 120_000;

/** How a tool ended. */
export interface Finished {
  /** Exit status; `null` when a signal ended it. */
  readonly code: number | null;
  readonly signal: NodeJS.Signals | null;
  readonly stderr: string;
}

/**
 * Starts a tool. What it writes to standard error is kept to a limit.
 * @returns the process and a promise that settles when it ends
 * @throws {ToolMissing} through `ended` when the program is not installed
 */
export const start = (
  tool: Tool,
  args: readonly string[],
  options: SpawnOptions,
): { process: ChildProcess; ended: Promise<Finished> } => {
  const process = spawn(tool, args, options);
  let stderr = '';
  process.stderr?.setEncoding('utf8').on('data', (text: string) => {
    if (stderr.length < KEPT_STDERR) stderr += text;
  });
  const ended = new Promise<Finished>((resolve, reject) => {
    process.once('error', (error: NodeJS.ErrnoException) =>
      reject(error.code === 'ENOENT' ? new ToolMissing(tool) : error),
    );
    process.once('close', (code, signal) => resolve({ code, signal, stderr }));
  });
  return { process, ended };
};

/**
 * Runs a tool to its end and collects what it prints.
 * @param withinMs it is ended when it takes longer
 * @param input what it reads from its standard input
 */
export const run = async (
  tool: Tool,
  args: readonly string[],
  {
    signal,
    withinMs = SHORT_RUN_MS,
    input,
  }: { signal?: AbortSignal; withinMs?: number; input?: Uint8Array } = {},
): Promise<Finished & { output: Buffer }> => {
  const { process, ended } = start(tool, args, {
    stdio: [input ? 'pipe' : 'ignore', 'pipe', 'pipe'],
    signal,
  });
  // A tool that ends before it has read everything says itself why.
  process.stdin?.on('error', () => undefined).end(input);
  const parts: Buffer[] = [];
  process.stdout?.on('data', (part: Buffer) => parts.push(part));
  const late = setTimeout(() => process.kill('SIGKILL'), withinMs);
  try {
    return { ...(await ended), output: Buffer.concat(parts) };
  } finally {
    clearTimeout(late);
  }
};
