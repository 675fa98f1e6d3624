import { closeSync, mkdirSync, openSync, readFileSync, rmSync, writeSync } from 'node:fs';
import { join } from 'node:path';
import { processInfo } from './processes.js';
import { CannotStart } from './stop.js';

interface Holder {
  readonly pid: number;
  readonly startedAt: string;
  /** A number means nothing after the machine was started anew. */
  readonly boot: string;
}

const boot = (): string => readFileSync('/proc/sys/kernel/random/boot_id', 'utf8').trim();

const noteIn = (folder: string): string => join(folder, 'running.json');

/** The process that holds a folder; `null` when nobody does, or who did has ended, however it did. */
export const holderOf = (folder: string): number | null => {
  try {
    const { pid, startedAt, boot: then } = JSON.parse(readFileSync(noteIn(folder), 'utf8')) as Holder;
    const running = processInfo(pid);
    return running && !running.zombie && running.startedAt === startedAt && then === boot() ? pid : null;
  } catch {
    return null;
  }
};

/**
 * Takes a folder for this process alone: two on one folder would pull the database out from under each other.
 * @returns gives it back
 * @throws {CannotStart} naming the process that has it
 */
export const takeFolder = (folder: string): (() => void) => {
  mkdirSync(folder, { recursive: true });
  const me: Holder = { pid: process.pid, startedAt: processInfo(process.pid)?.startedAt ?? '', boot: boot() };
  // Of two that come at the same moment, one makes the file.
  for (let note = makeNote(folder); ; note = makeNote(folder)) {
    if (note !== null) {
      writeSync(note, JSON.stringify(me));
      closeSync(note);
      return () => rmSync(noteIn(folder), { force: true });
    }
    const holder = holderOf(folder);
    if (holder !== null)
      throw new CannotStart(
        `Bevrin runs from ${folder} already (process ${holder}). Stop it first, or start this one with another folder: BEVRIN_VAR=other-folder.`,
      );
    rmSync(noteIn(folder), { force: true });
  }
};

/** @returns the open file; `null` when there is one already */
const makeNote = (folder: string): number | null => {
  try {
    return openSync(noteIn(folder), 'wx');
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code === 'EEXIST') return null;
    throw error;
  }
};
