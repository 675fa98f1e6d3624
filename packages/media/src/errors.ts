import { basename } from 'node:path';
import { printable } from '@bevrin/contract';

/** A clip that cannot be read: which file, what is wrong with it, and what to do next. */
export class ClipUnreadable extends Error {
  override readonly name = 'ClipUnreadable';
  constructor(path: string, what: string, next: string) {
    super(`${printable(basename(path))}: ${what} ${next}`);
  }
}

/** A decoder that was ended from outside, or that we ended: the file is not to blame as far as anybody knows. */
export class DecoderStopped extends Error {
  override readonly name = 'DecoderStopped';
  /** @param at how far it had come, such as `at frame 135 of 500` */
  constructor(path: string, at: string, signal: NodeJS.Signals | null) {
    const how = signal === null ? '' : ` (${signal})`;
    super(
      `${printable(basename(path))}: the decoder was stopped${at && ` ${at}`}${how}, so nothing is known of the rest. Measure it again; if it happens again, see whether the machine runs out of memory.`,
    );
  }
}

/** A disk of ours is full: no file is to blame. */
export class DiskFull extends Error {
  override readonly name = 'DiskFull';
  constructor() {
    super("The server's disk is full. Free some space; the work goes on by itself.");
  }
}

/** A program of Debian's that Bevrin stands on is not there. */
export class ToolMissing extends Error {
  override readonly name = 'ToolMissing';
  constructor(tool: string) {
    super(`The program ${tool} is not installed. Install Debian's package ffmpeg: apt-get install ffmpeg.`);
  }
}
