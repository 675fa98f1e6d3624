import type { MessagePort } from 'node:worker_threads';
import {
  alignedFrame,
  ClipUnreadable,
  DecoderStopped,
  DiskFull,
  likenessOf,
  recheckClips,
  type Lies,
  type Rechecked,
  type RecheckOrder,
} from '@bevrin/media';

/** What a worker thread is given: a file to prove, a frame of one to lay over the original, or a file whose clip is looked for. */
export type RecheckTask =
  | ({
      readonly kind: 'recheck';
      readonly original: string;
      readonly repaired: string;
      readonly port: MessagePort;
    } & Omit<RecheckOrder, 'signal' | 'progress'>)
  | {
      readonly kind: 'frame';
      readonly original: string;
      readonly repaired: string;
      readonly lies: Lies;
      readonly frame: number;
    }
  | {
      readonly kind: 'likeness';
      /** Clips that the file may be made of. */
      readonly originals: readonly string[];
      readonly repaired: string;
    };

/** What came of it. Error classes do not survive the way between threads: their sentences do. */
export type RecheckOutcome =
  | ({ readonly lies: Lies | null } & Omit<Rechecked, 'alignment'>)
  | { readonly bytes: Uint8Array | null }
  | { readonly likeness: readonly (number | null)[] }
  | { readonly passes: boolean; readonly message: string };

/** Runs in a worker thread, so that no request ever waits for a recheck. */
export default async (task: RecheckTask): Promise<RecheckOutcome> => {
  try {
    if (task.kind === 'frame')
      return { bytes: await alignedFrame(task.original, task.repaired, task.lies, task.frame) };
    if (task.kind === 'likeness') return { likeness: await likenessOf(task.originals, task.repaired) };
    const { kind: _kind, original, repaired, port, ...order } = task;
    try {
      const found = await recheckClips(original, repaired, {
        ...order,
        progress: (share) => port.postMessage({ share }),
      });
      const { alignment, ...proof } = found;
      const lies = alignment && {
        offset: alignment.offset,
        placement: alignment.placement,
        steadied: alignment.steadied,
        times: alignment.times,
      };
      return { ...proof, lies };
    } finally {
      port.close();
    }
  } catch (error) {
    for (const known of [ClipUnreadable, DecoderStopped, DiskFull])
      if (error instanceof known) return { passes: error instanceof DecoderStopped, message: error.message };
    throw error;
  }
};
