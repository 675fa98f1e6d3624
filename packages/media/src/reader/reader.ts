import type { Worker } from 'node:worker_threads';
import type { FrameView } from '@bevrin/core';
import { ToolMissing } from '../errors.js';
import { startThread } from '../start-thread.js';
import type { Finished } from '../tools.js';
import type { FromReader, ToReader } from './messages.js';

/** Frames of a view that may wait while those before are measured: a second of small ones, a few of full size. */
const HELD: Record<FrameView, number> = { small: 32, burst: 4 };

/** Used rooms go back so many at a time: each message wakes a thread. */
const GIVEN_BACK: Record<FrameView, number> = { small: 8, burst: 1 };

interface Session {
  frame(view: FrameView, count: number, room: number): void;
  ended(how: Finished): void;
  failed(error: Error): void;
}

let thread: Worker | null = null;
let last = 0;
const sessions = new Map<number, Session>();

/** One thread serves the whole process; it keeps nobody from ending. */
const running = (): Worker => {
  if (thread) return thread;
  const worker = startThread(new URL('./thread.js', import.meta.url));
  worker.on('message', (message: FromReader) => {
    const session = sessions.get(message.id);
    if (message.kind === 'frame') session?.frame(message.view, message.count, message.room);
    else if (message.kind === 'ended') session?.ended(message.how);
    else session?.failed(message.toolMissing ? new ToolMissing('ffmpeg') : new Error(message.message));
  });
  worker.on('error', (error) => {
    thread = null;
    for (const session of sessions.values()) session.failed(error);
  });
  worker.unref();
  thread = worker;
  return worker;
};

/** Starts the reading thread where it does not run yet: it is there by the time a header is read. */
export const readyToRead = (): void => void running();

/**
 * Runs the decoder on the reading thread and hands out each frame it writes.
 * @param bytes of one frame of each view
 * @param take is given each frame; its bytes are used again afterwards
 * @param input what the decoder reads from its standard input
 * @returns how the decoder ended, once every frame was taken
 * @throws {ToolMissing}; what `take` throws; the signal's reason when it is stopped
 */
export const readFrames = (
  args: readonly string[],
  bytes: Record<FrameView, number>,
  take: (view: FrameView, count: number, bytes: SharedArrayBuffer) => void,
  { signal, input }: { readonly signal?: AbortSignal; readonly input?: readonly Uint8Array[] } = {},
): Promise<Finished> =>
  new Promise((resolve, reject) => {
    signal?.throwIfAborted();
    const worker = running();
    const id = ++last;
    const tell = (message: ToReader): void => worker.postMessage(message);
    const close = (): void => {
      sessions.delete(id);
      signal?.removeEventListener('abort', abort);
      if (sessions.size === 0) worker.unref();
    };
    const fail = (error: unknown): void => {
      tell({ kind: 'stop', id });
      close();
      reject(error as Error);
    };
    const abort = (): void => fail(signal?.reason);
    signal?.addEventListener('abort', abort);
    // Both threads see the same bytes: nothing is handed over, copied or thrown away.
    const roomsOf = (view: FrameView): SharedArrayBuffer[] =>
      Array.from({ length: HELD[view] }, () => new SharedArrayBuffer(bytes[view]));
    const views = { small: roomsOf('small'), burst: roomsOf('burst') };
    const back: Record<FrameView, number[]> = { small: [], burst: [] };
    sessions.set(id, {
      frame: (view, count, room) => {
        try {
          take(view, count, views[view][room]);
          const used = back[view];
          used.push(room);
          if (used.length < GIVEN_BACK[view]) return;
          tell({ kind: 'back', id, view, rooms: used.splice(0) });
        } catch (error) {
          fail(error);
        }
      },
      ended: (how) => {
        close();
        resolve(how);
      },
      failed: fail,
    });
    worker.ref();
    tell({ kind: 'begin', id, args, input, views });
  });
