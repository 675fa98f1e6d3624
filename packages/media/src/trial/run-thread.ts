import { parentPort } from 'node:worker_threads';
import type { DeliverySpec, Measurement, Step, TreatmentName, ViewingTransform } from '@bevrin/contract';
import { runnerOf } from '@bevrin/core';
import { probeClip } from '../probe.js';
import { openSource } from '../source.js';
import { framesFor, makeTogether, type MadeRun, type RunGround } from './run.js';

/** What a helping thread must know to make runs. */
export interface HelperGround {
  readonly path: string;
  readonly range: { readonly startFrame: number; readonly endFrame: number };
  readonly measurement: Measurement;
  readonly spec: DeliverySpec;
  readonly viewing?: ViewingTransform;
  readonly kept: boolean;
}

export type ToHelper =
  | { readonly kind: 'begin'; readonly given: HelperGround; readonly window: number }
  | {
      readonly kind: 'runs';
      readonly runs: readonly {
        readonly index: number;
        readonly steps: readonly { readonly treatment: TreatmentName; readonly settings: Step['settings'] }[];
        readonly file: string;
      }[];
    };

export type FromHelper =
  | { readonly kind: 'share'; readonly index: number; readonly share: number }
  | { readonly kind: 'run'; readonly index: number; readonly made: MadeRun }
  /** All runs that were asked for. */
  | { readonly kind: 'done' }
  | { readonly kind: 'failed'; readonly message: string };

const tell = (message: FromHelper): void => parentPort?.postMessage(message);

const begin = async (given: HelperGround, window: number): Promise<RunGround> => {
  const { path, range, ...rest } = given;
  const clip = await probeClip(await openSource(path));
  return { ...rest, clip, frames: await framesFor(clip, range, window) };
};

let ground: Promise<RunGround> | null = null;

parentPort?.on('message', (message: ToHelper) => {
  if (message.kind === 'begin') {
    ground = begin(message.given, message.window);
    ground.catch((error: Error) => tell({ kind: 'failed', message: error.message }));
    return;
  }
  const { runs } = message;
  const wanted = runs.map(({ steps, file }) => ({
    run: steps.map(({ treatment, settings }) => ({ runner: runnerOf(treatment), settings })),
    file,
  }));
  ground
    ?.then((g) =>
      makeTogether(wanted, g, {
        tell: (i, share) => tell({ kind: 'share', index: runs[i].index, share }),
        made: (i, made) => tell({ kind: 'run', index: runs[i].index, made }),
      }),
    )
    .then(() => tell({ kind: 'done' }))
    .catch((error: Error) => tell({ kind: 'failed', message: error.message }));
});
