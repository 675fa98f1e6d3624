import type { MessagePort } from 'node:worker_threads';
import type { DeliverySpec, Measurement, Trial, TrialRun } from '@bevrin/contract';
import { SettingUnusable, TreatmentUnusable } from '@bevrin/core';
import {
  ClipUnreadable,
  DecoderStopped,
  DiskFull,
  TrialUnusable,
  tryTreatment,
  type TrialOrder,
} from '@bevrin/media';

/** What a worker thread is given. Progress and runs go back through the port. */
export interface TrialTask extends Omit<TrialOrder, 'signal' | 'progress' | 'onFirst' | 'onRun'> {
  readonly path: string;
  readonly measured: Measurement;
  readonly spec: DeliverySpec;
  readonly out: string;
  readonly port: MessagePort;
}

/** What is told on the way. */
export type TrialNews =
  { readonly share: number } | { readonly run: TrialRun; readonly range: Trial['range'] };

/** What came of it. Error classes do not survive the way between threads: their sentences do. */
export type TrialOutcome =
  | { readonly trial: Trial }
  /** Whether it may come out otherwise another time. */
  | { readonly passes: boolean; readonly full: boolean; readonly message: string };

/** Runs in a worker thread, so that no request ever waits for a trial. */
export default async ({ path, port, ...order }: TrialTask): Promise<TrialOutcome> => {
  const tell = (news: TrialNews): void => port.postMessage(news);
  try {
    return {
      trial: await tryTreatment(path, {
        ...order,
        progress: (share) => tell({ share }),
        onFirst: (run, range) => tell({ run, range }),
        onRun: (run, range) => tell({ run, range }),
      }),
    };
  } catch (error) {
    for (const known of [
      ClipUnreadable,
      TrialUnusable,
      SettingUnusable,
      TreatmentUnusable,
      DecoderStopped,
      DiskFull,
    ])
      if (error instanceof known)
        return {
          passes: error instanceof DecoderStopped,
          full: error instanceof DiskFull,
          message: error.message,
        };
    throw error;
  } finally {
    port.close();
  }
};
