import { readdirSync, readFileSync, readlinkSync } from 'node:fs';

/** A process as the kernel knows it. */
export interface ProcessInfo {
  readonly pid: number;
  readonly parent: number;
  /** Name of the program, cut to 15 letters. */
  readonly name: string;
  /** Whether it has ended and nobody has asked after it yet. */
  readonly zombie: boolean;
  /** When it was started, in clock ticks since the machine was: tells it from a later one with the same number. */
  readonly startedAt: string;
}

/** Reads `/proc/PID/stat` (proc(5)); `null` when there is no such process. */
export const processInfo = (pid: number): ProcessInfo | null => {
  try {
    const stat = readFileSync(`/proc/${pid}/stat`, 'utf8');
    const [open, close] = [stat.indexOf('('), stat.lastIndexOf(')')];
    const fields = stat.slice(close + 2).split(' ');
    return {
      pid,
      parent: Number(fields[1]),
      name: stat.slice(open + 1, close),
      zombie: fields[0] === 'Z' || fields[0] === 'X',
      startedAt: fields[19],
    };
  } catch {
    return null;
  }
};

export const allProcesses = (): ProcessInfo[] =>
  readdirSync('/proc').flatMap((name) => {
    const found = /^\d+$/.test(name) ? processInfo(Number(name)) : null;
    return found ? [found] : [];
  });

/** A process and everything it started that still runs. */
export const familyOf = (root: number): ProcessInfo[] => {
  const all = allProcesses();
  const members = all.filter((p) => p.pid === root);
  for (let i = 0; i < members.length; i++)
    members.push(...all.filter((p) => p.parent === members[i].pid && p.pid !== p.parent));
  return members;
};

/** The folder that a process works in; `null` when it has ended or may not be asked. */
export const folderOfProcess = (pid: number): string | null => {
  try {
    return readlinkSync(`/proc/${pid}/cwd`);
  } catch {
    return null;
  }
};
