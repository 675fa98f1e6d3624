import type { MessagePort } from 'node:worker_threads';
import { measureClip } from '@bevrin/media';
import type { Defect, Measurement, Overrides } from '@bevrin/contract';

/** What a worker thread is given. Progress goes back through the port, 0–1. */
export interface MeasureTask {
  readonly path: string;
  readonly overrides?: Overrides;
  /** The measures that look; all of them where it is not said. */
  readonly only?: readonly Defect[];
  readonly port: MessagePort;
}

/** Runs in a worker thread, so that no request ever waits for a measurement. */
export default async ({
  path,
  port,
  overrides,
  only,
}: MeasureTask): Promise<Measurement | { unreadable: string }> => {
  try {
    return await measureClip(path, { overrides, only, progress: (share) => port.postMessage(share) });
  } catch (error) {
    // Error classes do not survive the way between threads: what a person must read goes as text.
    if (error instanceof Error && error.name === 'ClipUnreadable') return { unreadable: error.message };
    throw error;
  } finally {
    port.close();
  }
};
