import { spawn, type ChildProcess, type SpawnOptions } from 'node:child_process';
import { ToolMissing } from './errors.js';

type Tool = 'ffmpeg' | 'ffprobe';

/** Enough of what a tool complains about to say what is wrong; it may complain for an hour. */
const KEPT_COMPLAINT = 16_384;

export interface Finished {
  readonly code: number | null;
  readonly complaint: string;
}

/**
 * Starts a tool. Its complaints (standard error) are kept to a limit.
 * @returns the process and a promise that settles when it ends
 * @throws {ToolMissing} through `ended` when the program is not installed
 */
export const start = (
  tool: Tool,
  args: readonly string[],
  options: SpawnOptions,
): { process: ChildProcess; ended: Promise<Finished> } => {
  const process = spawn(tool, args, options);
  let complaint = '';
  process.stderr?.setEncoding('utf8').on('data', (text: string) => {
    if (complaint.length < KEPT_COMPLAINT) complaint += text;
  });
  const ended = new Promise<Finished>((resolve, reject) => {
    process.once('error', (error: NodeJS.ErrnoException) =>
      reject(error.code === 'ENOENT' ? new ToolMissing(tool) : error),
    );
    process.once('close', (code) => resolve({ code, complaint }));
  });
  return { process, ended };
};

/** Runs a tool to its end and collects what it prints. */
export const run = async (
  tool: Tool,
  args: readonly string[],
  signal?: AbortSignal,
): Promise<Finished & { output: Buffer }> => {
  const { process, ended } = start(tool, args, { stdio: ['ignore', 'pipe', 'pipe'], signal });
  const parts: Buffer[] = [];
  process.stdout?.on('data', (part: Buffer) => parts.push(part));
  return { ...(await ended), output: Buffer.concat(parts) };
};
