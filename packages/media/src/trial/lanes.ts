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

/** A thread that helps. To be ended. */
export class HelpingLane implements Lane {
  private readonly worker = startThread(new URL('./run-thread.js', import.meta.url));
  private readonly failed: Promise<never>;
  private answered: (value: unknown) => void = () => undefined;
  private tell: (share: number) => void = () => undefined;

  constructor({ frames, ...ground }: RunGround, signal: AbortSignal | undefined) {
    this.failed = new Promise((_, reject) => {
      signal?.addEventListener('abort', () => reject(signal.reason as Error), { once: true });
      this.worker.on('error', reject);
      this.worker.on('message', (message: FromHelper) => {
        if (message.kind === 'share') this.tell(message.share);
        else if (message.kind === 'failed') reject(new Error(message.message));
        else this.answered(message.value);
      });
    });
    this.failed.catch(() => undefined);
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
    await this.worker.terminate();
  }

  private say(message: ToHelper, given: readonly ArrayBuffer[] = []): void {
    this.worker.postMessage(message, given);
  }

  /** What is asked for after this must wait for its answer. */
  private ask<Answer>(message: ToHelper, given?: readonly ArrayBuffer[]): Promise<Answer> {
    const answer = new Promise<Answer>((resolve) => {
      this.answered = resolve as (value: unknown) => void;
    });
    this.say(message, given);
    return Promise.race([answer, this.failed]);
  }
}
