import { parentPort } from 'node:worker_threads';
import type { Step, TreatmentName } from '@bevrin/contract';
import { runnerOf, Study, type Picture, type Sequence } from '@bevrin/core';
import { memoryOf } from './pictures.js';
import { makeRun, measuredRun, sharedRuns, type RunGround, type WantedRun } from './run.js';

/** What a helping thread must know to make runs. */
export interface HelperGround extends Omit<RunGround, 'frames'> {
  /** The frames that were read, and which of them are treated. */
  readonly sequence: Sequence;
  readonly from: number;
  readonly to: number;
}

/** A run as it is sent to another thread. */
export interface SentRun {
  readonly steps: readonly { readonly treatment: TreatmentName; readonly settings: Step['settings'] }[];
  readonly file: string | null;
}

export type ToHelper =
  | { readonly kind: 'begin'; readonly given: HelperGround }
  /** The trial is through: nothing of it is kept. */
  | { readonly kind: 'end' }
  /** A run as a whole. */
  | { readonly kind: 'make'; readonly run: SentRun }
  /** Runs whose frames are to be treated together from now on. */
  | { readonly kind: 'share'; readonly runs: readonly SentRun[] }
  /** Some frames for all of them. */
  | { readonly kind: 'treat'; readonly indexes: readonly number[] }
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

const wantedFrom = ({ steps, file }: SentRun): WantedRun => ({
  run: steps.map(({ treatment, settings }) => ({ runner: runnerOf(treatment), settings })),
  file,
});

let ground: RunGround | null = null;
let shared: ReturnType<typeof sharedRuns> = null;

const answer = async (message: ToHelper): Promise<void> => {
  if (message.kind === 'begin') {
    const { sequence, from, to, ...rest } = message.given;
    ground = { ...rest, frames: { study: new Study(sequence), from, to } };
    return;
  }
  if (message.kind === 'end') {
    [ground, shared] = [null, null];
    return;
  }
  const there = ground!;
  if (message.kind === 'make') {
    const value = await makeRun(wantedFrom(message.run), there, (share) => tell({ kind: 'share', share }));
    tell({ kind: 'answer', value });
  } else if (message.kind === 'share') {
    shared = sharedRuns(
      message.runs.map((run) => wantedFrom(run).run),
      there,
    );
  } else if (message.kind === 'treat') {
    const value = message.indexes.map((index) => shared!.treat(index));
    tell({ kind: 'answer', value }, memoryOf(value.flatMap(({ pictures }) => pictures)));
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
