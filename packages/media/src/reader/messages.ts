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
      /** Bytes of one frame of each view, and how many frames of it may wait. */
      views: Record<FrameView, { bytes: number; held: number }>;
    }
  | { kind: 'back'; id: number; view: FrameView; buffers: ArrayBuffer[] }
  | { kind: 'stop'; id: number };

/** What it answers. `count` is the place of a frame among those of its view. */
export type FromReader =
  | { kind: 'frame'; id: number; view: FrameView; count: number; buffer: ArrayBuffer }
  | { kind: 'ended'; id: number; how: Finished }
  | { kind: 'failed'; id: number; toolMissing: boolean; message: string };
