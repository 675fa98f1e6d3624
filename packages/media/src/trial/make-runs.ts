import type { Finding, TrialRun } from '@bevrin/contract';
import { startThread } from '../start-thread.js';
import { windowOf } from './order.js';
import { makeTogether, setAgainst, togetherOf, type MadeRun, type RunGround, type WantedRun } from './run.js';
import type { FromHelper, HelperGround, ToHelper } from './run-thread.js';

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
 * takes longest, while the frames are measured here as they came. Runs that share work are made together.
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
  const most = togetherOf(wanted[0].run, ground);
  /** Runs for one lane, of its share of what waits; helpers take the last. */
  const take = (fromEnd: boolean): number[] => {
    const share = waiting.length / (helpers + 1);
    const count = Math.min(most, Math.max(1, fromEnd ? Math.floor(share) : Math.ceil(share)));
    return fromEnd ? waiting.splice(Math.max(0, waiting.length - count)) : waiting.splice(0, count);
  };
  const here = async (): Promise<void> => {
    // What the helpers begin with is taken before this thread is busy.
    const first = take(false);
    before = await making.measureBefore();
    hand();
    for (let own = first; own.length > 0; own = take(false)) {
      signal?.throwIfAborted();
      await makeTogether(
        own.map((index) => wanted[index]),
        ground,
        {
          signal,
          tell: (i, share) => tell(own[i], share),
          made: (i, run) => finish(own[i], run),
        },
      );
    }
  };
  const lanes = Array.from({ length: helpers }, () =>
    withHelper(ground, making, wanted, () => take(true), tell, finish),
  );
  await Promise.all([...lanes, here()]);
  return { runs: done.map((run) => run!), before: before! };
};

/** Lets another thread make runs until none is left. */
const withHelper = async (
  { clip, measurement, spec, viewing, kept }: RunGround,
  { range, signal }: Making,
  wanted: readonly WantedRun[],
  next: () => readonly number[],
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
        const indexes = next();
        if (indexes.length === 0) return resolve();
        const runs = indexes.map((index) => ({
          index,
          steps: wanted[index].run.map(({ runner, settings }) => ({
            treatment: runner.treatment,
            settings,
          })),
          file: wanted[index].file,
        }));
        say({ kind: 'runs', runs });
      };
      worker.on('error', reject);
      worker.on('message', (message: FromHelper) => {
        if (message.kind === 'share') tell(message.index, message.share);
        else if (message.kind === 'failed') reject(new Error(message.message));
        else if (message.kind === 'done') more();
        else finish(message.index, message.made);
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
