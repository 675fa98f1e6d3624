import type { MessagePort } from 'node:worker_threads';
import { ClipUnreadable, DecoderStopped, DiskFull, measureClip } from '@bevrin/media';
import type { Defect, Measurement, Overrides } from '@bevrin/contract';

/** What a worker thread is given. Progress goes back through the port, 0–1. */
export interface MeasureTask {
  readonly path: string;
  readonly overrides?: Overrides;
  /** The measures that look; all of them where it is not said. */
  readonly only?: readonly Defect[];
  readonly port: MessagePort;
}

/** What came of it. Error classes do not survive the way between threads: their names and sentences do. */
export type MeasureOutcome =
  | { readonly measurement: Measurement }
  | { readonly failed: 'ClipUnreadable' | 'DecoderStopped' | 'DiskFull'; readonly message: string };

/** Runs in a worker thread, so that no request ever waits for a measurement. */
export default async ({ path, port, overrides, only }: MeasureTask): Promise<MeasureOutcome> => {
  try {
    return {
      measurement: await measureClip(path, {
        overrides,
        only,
        progress: (share) => port.postMessage(share),
      }),
    };
  } catch (error) {
    if (error instanceof ClipUnreadable || error instanceof DecoderStopped || error instanceof DiskFull)
      return { failed: error.name, message: error.message };
    throw error;
  } finally {
    port.close();
  }
};
