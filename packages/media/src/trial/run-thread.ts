import { parentPort } from 'node:worker_threads';
import type { DeliverySpec, Measurement, Step, TreatmentName, ViewingTransform } from '@bevrin/contract';
import { runnerOf, type Picture } from '@bevrin/core';
import { probeClip } from '../probe.js';
import { openSource } from '../source.js';
import { memoryOf } from './pictures.js';
import { framesFor, makeRun, measuredRun, sharedRuns, type RunGround, type WantedRun } from './run.js';

/** What a helping thread must know to make runs. */
export interface HelperGround {
  readonly path: string;
  readonly range: { readonly startFrame: number; readonly endFrame: number };
  readonly measurement: Measurement;
  readonly spec: DeliverySpec;
  readonly viewing?: ViewingTransform;
  readonly kept: boolean;
}

/** A run as it is sent to another thread. */
export interface SentRun {
  readonly steps: readonly { readonly treatment: TreatmentName; readonly settings: Step['settings'] }[];
  readonly file: string;
}

export type ToHelper =
  | { readonly kind: 'begin'; readonly given: HelperGround; readonly window: number }
  /** A run as a whole. */
  | { readonly kind: 'make'; readonly run: SentRun }
  /** Runs whose frames are to be treated together from now on. */
  | { readonly kind: 'share'; readonly runs: readonly SentRun[] }
  /** One frame for all of them. */
  | { readonly kind: 'treat'; readonly index: number }
  /** The frames of a run, wherever they were treated. */
  | {
      readonly kind: 'measure';
      readonly run: SentRun;
      readonly after: ReadonlyMap<number, Picture>;
      readonly seconds: number;
    };

/** Each thing that is asked for is answered once, in its order. */
export type FromHelper =
  | { readonly kind: 'share'; readonly share: number }
  | { readonly kind: 'answer'; readonly value: unknown }
  | { readonly kind: 'failed'; readonly message: string };

const tell = (message: FromHelper, transfer: readonly ArrayBuffer[] = []): void =>
  parentPort?.postMessage(message, transfer);

const begin = async (given: HelperGround, window: number): Promise<RunGround> => {
  const { path, range, ...rest } = given;
  const clip = await probeClip(await openSource(path));
  return { ...rest, clip, frames: await framesFor(clip, range, window) };
};

const wantedFrom = ({ steps, file }: SentRun): WantedRun => ({
  run: steps.map(({ treatment, settings }) => ({ runner: runnerOf(treatment), settings })),
  file,
});

let ground: Promise<RunGround> | null = null;
let shared: ReturnType<typeof sharedRuns> = null;

const answer = async (message: ToHelper): Promise<void> => {
  if (message.kind === 'begin') {
    ground = begin(message.given, message.window);
    ground.catch(() => undefined);
    return;
  }
  const there = await ground!;
  if (message.kind === 'make') {
    const value = await makeRun(wantedFrom(message.run), there, (share) => tell({ kind: 'share', share }));
    tell({ kind: 'answer', value });
  } else if (message.kind === 'share') {
    shared = sharedRuns(
      message.runs.map((run) => wantedFrom(run).run),
      there,
    );
  } else if (message.kind === 'treat') {
    const value = shared!.treat(message.index);
    tell({ kind: 'answer', value }, memoryOf(value.pictures));
  } else {
    const { run, after, seconds } = message;
    tell({
      kind: 'answer',
      value: await measuredRun(wantedFrom(run), there, { after, chain: [], seconds }),
    });
  }
};

// One after the other: what is asked for next waits for what was.
let turn: Promise<void> = Promise.resolve();
parentPort?.on('message', (message: ToHelper) => {
  turn = turn
    .then(() => answer(message))
    .catch((error: Error) => tell({ kind: 'failed', message: error.message }));
});
