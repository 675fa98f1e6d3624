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

/** So long a thread that helped waits for the next trial: one that is new needs some seconds before it is fast. */
const WAITS_MS = 60_000;
/** Those that wait, and when they give up. */
const waiting = new Map<Worker, NodeJS.Timeout>();

const startHelper = (): Worker => {
  const worker = startThread(new URL('./run-thread.js', import.meta.url));
  // Where nobody asks it for anything, its end is all that there is to say.
  worker.on('error', () => undefined);
  worker.on('exit', () => leave(worker));
  return worker;
};

const leave = (worker: Worker): void => {
  clearTimeout(waiting.get(worker));
  waiting.delete(worker);
};

const helper = (): Worker => {
  const [worker] = waiting.keys();
  if (!worker) return startHelper();
  leave(worker);
  worker.ref();
  return worker;
};

/** Lets a thread wait; it keeps nobody from ending. */
const letWait = (worker: Worker): void => {
  const givesUp = (): void => {
    leave(worker);
    void worker.terminate();
  };
  worker.unref();
  waiting.set(worker, setTimeout(givesUp, WAITS_MS).unref());
};

/** A thread that helps. To be ended. */
export class HelpingLane implements Lane {
  private readonly worker = helper();
  private readonly failed: Promise<never>;
  /** Questions that were not answered yet. */
  private open = 0;
  private isLost = false;
  /** Hears no more of the thread. */
  private turnAway: () => void = () => undefined;
  private answered: (value: unknown) => void = () => undefined;
  private tell: (share: number) => void = () => undefined;

  constructor({ frames, ...ground }: RunGround, signal: AbortSignal | undefined) {
    this.failed = new Promise((_, reject) => {
      const broken = (): void => reject(signal?.reason as Error);
      const hear = (message: FromHelper): void => {
        if (message.kind === 'share') this.tell(message.share);
        else if (message.kind === 'failed') reject(new Error(message.message));
        else this.answered(message.value);
      };
      signal?.addEventListener('abort', broken, { once: true });
      this.worker.on('error', reject).on('message', hear);
      this.turnAway = () => {
        signal?.removeEventListener('abort', broken);
        this.worker.off('error', reject).off('message', hear);
      };
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
    this.turnAway();
    // One that still works on what nobody waits for is of no use to the next.
    if (this.open > 0 || this.isLost) {
      await this.worker.terminate();
      return;
    }
    this.say({ kind: 'end' });
    letWait(this.worker);
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
