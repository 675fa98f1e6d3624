import type { Finding, TrialRun } from '@bevrin/contract';
import { startThread } from '../start-thread.js';
import { windowOf, type TriedStep } from './order.js';
import { runOf, setAgainst, type MadeRun, type RunGround } from './run.js';
import type { FromHelper, HelperGround, ToHelper } from './run-thread.js';

/** A run that is to be made, and where its frames go. */
export interface WantedRun {
  readonly run: readonly TriedStep[];
  readonly file: string;
}

interface Making {
  /** What is found on the frames as they came. */
  readonly measureBefore: () => Promise<readonly Finding[]>;
  readonly range: { readonly startFrame: number; readonly endFrame: number };
  /** Threads that make runs, this one among them. */
  readonly threads: number;
  readonly signal?: AbortSignal;
  /** Told the share of all runs that is done, 0–1, and how many are through. */
  readonly tell: (share: number, done: number) => void;
  /** Told each run in its order. */
  readonly onRun: (run: TrialRun) => void;
}

/**
 * Makes the runs of a trial, several at a time where there are threads for it: helpers begin with the last of a sweep, which
 * takes longest, while the frames are measured here as they came.
 */
export const makeRuns = async (
  wanted: readonly WantedRun[],
  ground: RunGround,
  making: Making,
): Promise<{ runs: TrialRun[]; before: readonly Finding[] }> => {
  const { signal } = making;
  const done: (TrialRun | undefined)[] = wanted.map(() => undefined);
  const shares = wanted.map(() => 0);
  let told = 0;
  const tell = (index: number, share: number): void => {
    shares[index] = share;
    making.tell(shares.reduce((a, b) => a + b, 0) / wanted.length, done.filter((d) => d).length);
  };
  let before: readonly Finding[] | null = null;
  const made: (MadeRun | undefined)[] = wanted.map(() => undefined);
  const finish = (index: number, run: MadeRun): void => {
    made[index] = run;
    tell(index, 1);
    hand();
  };
  const hand = (): void => {
    if (!before) return;
    for (const [i, run] of made.entries()) if (run) done[i] ??= setAgainst(run, before);
    for (let next = done[told]; next; next = done[told]) {
      making.onRun(next);
      told++;
    }
  };
  const waiting = wanted.map((_, i) => i);
  const helpers = Math.min(making.threads, wanted.length) - 1;
  const here = async (): Promise<void> => {
    before = await making.measureBefore();
    hand();
    for (let index = waiting.shift(); index !== undefined; index = waiting.shift()) {
      signal?.throwIfAborted();
      const at = index;
      const { run, file } = wanted[at];
      finish(at, await runOf(run, file, ground, { signal, tell: (share) => tell(at, share) }));
    }
  };
  const lanes = Array.from({ length: helpers }, () =>
    withHelper(ground, making, wanted, () => waiting.pop(), tell, finish),
  );
  await Promise.all([...lanes, here()]);
  return { runs: done.map((run) => run!), before: before! };
};

/** Lets another thread make runs until none is left. */
const withHelper = async (
  { clip, measurement, spec, viewing, kept }: RunGround,
  { range, signal }: Making,
  wanted: readonly WantedRun[],
  next: () => number | undefined,
  tell: (index: number, share: number) => void,
  finish: (index: number, run: MadeRun) => void,
): Promise<void> => {
  const worker = startThread(new URL('./run-thread.js', import.meta.url));
  const say = (message: ToHelper): void => worker.postMessage(message);
  try {
    await new Promise<void>((resolve, reject) => {
      const stop = (): void => reject(signal?.reason as Error);
      signal?.addEventListener('abort', stop, { once: true });
      const more = (): void => {
        const index = next();
        if (index === undefined) return resolve();
        const steps = wanted[index].run.map(({ runner, settings }) => ({
          treatment: runner.treatment,
          settings,
        }));
        say({ kind: 'run', index, steps, file: wanted[index].file });
      };
      worker.on('error', reject);
      worker.on('message', (message: FromHelper) => {
        if (message.kind === 'share') tell(message.index, message.share);
        else if (message.kind === 'failed') reject(new Error(message.message));
        else {
          finish(message.index, message.made);
          more();
        }
      });
      const given: HelperGround = { path: clip.source.path, range, measurement, spec, viewing, kept };
      const window = Math.max(...wanted.map(({ run }) => windowOf(run)));
      say({ kind: 'begin', given, window });
      more();
    });
  } finally {
    await worker.terminate();
  }
};
