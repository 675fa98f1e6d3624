import { Readable } from 'node:stream';
import { parentPort } from 'node:worker_threads';
import type { FrameView } from '@bevrin/core';
import { ToolMissing } from '../errors.js';
import { start } from '../tools.js';
import type { FromReader, ToReader } from './messages.js';

/**
 * Runs the decoder and cuts what it writes into frames, on a thread of its own: the decoder goes on while the frames
 * before are measured, until as many wait as may be held.
 */
const sessions = new Map<number, Session>();

const tell = (message: FromReader): void => parentPort?.postMessage(message);

/** Cuts one stream of bytes into frames. It stops reading when every room is taken, and goes on when one comes back. */
class FrameCutter {
  private readonly rooms: readonly Uint8Array[];
  private readonly free: number[];
  private current: number | null = null;
  private filled = 0;
  private count = 0;

  constructor(
    private readonly pipe: Readable,
    rooms: readonly SharedArrayBuffer[],
    private readonly hand: (count: number, room: number) => void,
  ) {
    this.rooms = rooms.map((room) => new Uint8Array(room));
    this.free = rooms.map((_, room) => room);
    pipe.on('readable', () => this.cut());
  }

  give(rooms: readonly number[]): void {
    this.free.push(...rooms);
    this.cut();
  }

  private cut(): void {
    for (;;) {
      if (this.current === null) {
        const room = this.free.pop();
        if (room === undefined) return;
        this.current = room;
        this.filled = 0;
      }
      const bytes = this.rooms[this.current];
      const wanted = bytes.length - this.filled;
      const chunk = this.pipe.read(Math.min(wanted, this.pipe.readableLength || wanted)) as Buffer | null;
      if (!chunk) return;
      const part = chunk.length > wanted ? chunk.subarray(0, wanted) : chunk;
      if (part.length < chunk.length) this.pipe.unshift(chunk.subarray(wanted));
      bytes.set(part, this.filled);
      this.filled += part.length;
      if (this.filled < bytes.length) continue;
      const room = this.current;
      this.current = null;
      this.hand(this.count++, room);
    }
  }
}

interface Session {
  readonly cutters: Record<FrameView, FrameCutter>;
  stop(): void;
}

const begin = ({ id, args, input, views }: Extract<ToReader, { kind: 'begin' }>): void => {
  const { process, ended } = start('ffmpeg', args, {
    stdio: [input ? 'pipe' : 'ignore', 'ignore', 'pipe', 'pipe', 'pipe'],
  });
  // A decoder that ends before it has read everything says itself why.
  if (input) Readable.from(input).pipe(process.stdin!.on('error', () => undefined));
  const [, , , small, burst] = process.stdio as Readable[];
  const cutter = (view: FrameView, pipe: Readable): FrameCutter =>
    new FrameCutter(pipe, views[view], (count, room) => tell({ kind: 'frame', id, view, count, room }));
  sessions.set(id, {
    cutters: { small: cutter('small', small), burst: cutter('burst', burst) },
    stop: () => {
      process.kill('SIGKILL');
      for (const pipe of [small, burst]) pipe.destroy();
    },
  });
  ended
    .then(
      (how) => tell({ kind: 'ended', id, how }),
      (error: Error) =>
        tell({ kind: 'failed', id, toolMissing: error instanceof ToolMissing, message: error.message }),
    )
    .finally(() => sessions.delete(id));
};

parentPort?.on('message', (message: ToReader) => {
  switch (message.kind) {
    case 'begin':
      return begin(message);
    case 'back':
      return sessions.get(message.id)?.cutters[message.view].give(message.rooms);
    case 'stop':
      return sessions.get(message.id)?.stop();
  }
});
