import type { FrameView } from '@bevrin/core';
import type { Finished } from '../tools.js';

/** What the reading thread is told. */
export type ToReader =
  | {
      kind: 'begin';
      id: number;
      args: readonly string[];
      /** What the decoder reads from its standard input. */
      input?: readonly Uint8Array[];
      /** Room for the frames of each view that may wait, one of each. */
      views: Record<FrameView, readonly SharedArrayBuffer[]>;
    }
  | { kind: 'back'; id: number; view: FrameView; rooms: readonly number[] }
  | { kind: 'stop'; id: number };

/** What it answers. `count` is the place of a frame among those of its view, `room` that of its bytes among the rooms. */
export type FromReader =
  | { kind: 'frame'; id: number; view: FrameView; count: number; room: number }
  | { kind: 'ended'; id: number; how: Finished }
  | { kind: 'failed'; id: number; toolMissing: boolean; message: string };
