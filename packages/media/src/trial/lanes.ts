import type { Worker } from 'node:worker_threads';
import type { Picture } from '@bevrin/core';
import { startThread } from '../start-thread.js';
import { memoryOf } from './pictures.js';
import type { FromHelper, SentRun, ToHelper } from './run-thread.js';
import {
  makeRun,
  measuredRun,
  sharedRuns,
  type MadeRun,
  type RunGround,
  type SharedRuns,
  type WantedRun,
} from './run.js';

/** One frame as each of the runs makes it that share their work, and what it takes each, s. */
export type SharedFrame = ReturnType<SharedRuns['treat']>;

/** Where runs of a trial are made: this thread, or another one. One thing after the other. */
export interface Lane {
  /** Makes a run as a whole; `tell` is told the share that is done. */
  make(wanted: WantedRun, tell: (share: number) => void): Promise<MadeRun>;
  /** Begins runs that share their work. */
  share(wanted: readonly WantedRun[]): void;
  /** Treats frames for all of them. */
  treat(indexes: readonly number[]): Promise<SharedFrame[]>;
  /** Measures frames that a run made, wherever they were treated. They are given away. */
  measure(wanted: WantedRun, after: ReadonlyMap<number, Picture>, seconds: number): Promise<MadeRun>;
}

/** The thread that the trial runs on. */
export class OwnLane implements Lane {
  private shared: SharedRuns | null = null;

  constructor(
    private readonly ground: RunGround,
    private readonly signal: AbortSignal | undefined,
  ) {}

  make(wanted: WantedRun, tell: (share: number) => void): Promise<MadeRun> {
    return makeRun(wanted, this.ground, tell, this.signal);
  }

  share(wanted: readonly WantedRun[]): void {
    this.shared = sharedRuns(
      wanted.map(({ run }) => run),
      this.ground,
    );
  }

  async treat(indexes: readonly number[]): Promise<SharedFrame[]> {
    const frames: SharedFrame[] = [];
    for (const index of indexes) {
      // Others have their turn between two frames.
      await new Promise((resume) => setImmediate(resume));
      frames.push(this.shared!.treat(index));
    }
    return frames;
  }

  measure(wanted: WantedRun, after: ReadonlyMap<number, Picture>, seconds: number): Promise<MadeRun> {
    return measuredRun(wanted, this.ground, { after, chain: [], seconds }, this.signal);
  }
}

const sent = ({ run, file }: WantedRun): SentRun => ({
  steps: run.map(({ runner: { treatment }, settings }) => ({ treatment, settings })),
  file,
});

/** Threads that helped and wait for the next trial: one that is new needs some seconds before it is fast. */
const idle: Worker[] = [];

const startHelper = (): Worker => {
  const worker = startThread(new URL('./run-thread.js', import.meta.url));
  worker.on('exit', () => {
    if (idle.includes(worker)) idle.splice(idle.indexOf(worker), 1);
  });
  return worker;
};

/** A thread that helps. To be ended. */
export class HelpingLane implements Lane {
  private readonly worker: Worker;
  private readonly failed: Promise<never>;
  /** Questions that were not answered yet. */
  private open = 0;
  private isLost = false;
  private readonly left = new AbortController();
  private answered: (value: unknown) => void = () => undefined;
  private tell: (share: number) => void = () => undefined;

  constructor({ frames, ...ground }: RunGround, signal: AbortSignal | undefined) {
    this.worker = idle.pop() ?? startHelper();
    this.worker.ref();
    this.failed = new Promise((_, reject) => {
      signal?.addEventListener('abort', () => reject(signal.reason as Error), {
        once: true,
        signal: this.left.signal,
      });
      this.worker.on('error', reject);
      this.worker.on('message', (message: FromHelper) => {
        if (message.kind === 'share') this.tell(message.share);
        else if (message.kind === 'failed') reject(new Error(message.message));
        else this.answered(message.value);
      });
    });
    this.failed.catch(() => (this.isLost = true));
    const { study, from, to } = frames;
    this.say({ kind: 'begin', given: { ...ground, sequence: study.sequence, from, to } });
  }

  make(wanted: WantedRun, tell: (share: number) => void): Promise<MadeRun> {
    this.tell = tell;
    return this.ask({ kind: 'make', run: sent(wanted) });
  }

  share(wanted: readonly WantedRun[]): void {
    this.say({ kind: 'share', runs: wanted.map(sent) });
  }

  treat(indexes: readonly number[]): Promise<SharedFrame[]> {
    return this.ask({ kind: 'treat', indexes });
  }

  measure(wanted: WantedRun, after: ReadonlyMap<number, Picture>, seconds: number): Promise<MadeRun> {
    return this.ask({ kind: 'measure', run: sent(wanted), after, seconds }, memoryOf(after.values()));
  }

  async end(): Promise<void> {
    this.left.abort();
    this.worker.removeAllListeners('message').removeAllListeners('error');
    // One that still works on what nobody waits for is of no use to the next.
    if (this.open > 0 || this.isLost) return void (await this.worker.terminate());
    this.say({ kind: 'end' });
    this.worker.unref();
    idle.push(this.worker);
  }

  private say(message: ToHelper, given: readonly ArrayBuffer[] = []): void {
    this.worker.postMessage(message, given);
  }

  /** What is asked for after this must wait for its answer. */
  private ask<Answer>(message: ToHelper, given?: readonly ArrayBuffer[]): Promise<Answer> {
    this.open++;
    const answer = new Promise<Answer>((resolve) => {
      this.answered = (value) => {
        this.open--;
        resolve(value as Answer);
      };
    });
    this.say(message, given);
    return Promise.race([answer, this.failed]);
  }
}
