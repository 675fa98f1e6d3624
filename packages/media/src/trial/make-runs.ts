import type { Finding, TrialRun } from '@bevrin/contract';
import type { Picture } from '@bevrin/core';
import { HelpingLane, OwnLane, type Lane } from './lanes.js';
import {
  runsAtOnce,
  setAgainst,
  sharedRuns,
  TREATED_AT,
  type MadeRun,
  type RunGround,
  type WantedRun,
} from './run.js';

interface Making {
  /** What is found on the frames as they came. */
  readonly measureBefore: () => Promise<readonly Finding[]>;
  /** Threads that make runs, this one among them. */
  readonly threads: number;
  readonly signal?: AbortSignal;
  /** Told the share of all runs that is done, 0–1, and how many are through. */
  readonly tell: (share: number, done: number) => void;
  /** Told each run in its order. */
  readonly onRun: (run: TrialRun) => void;
}

/**
 * Makes the runs of a trial on several threads where there are any. Runs that share work are treated together, each frame by
 * one thread for all of them, then measured each by one thread; others are made as a whole, the last of a sweep first, which
 * takes longest.
 */
export const makeRuns = async (
  wanted: readonly WantedRun[],
  ground: RunGround,
  making: Making,
): Promise<{ runs: TrialRun[]; before: readonly Finding[] }> => {
  const told = new Told(wanted.length, making);
  const own = new OwnLane(ground, making.signal);
  const frames = ground.frames.to - ground.frames.from;
  const together = isShared(wanted, ground);
  const most = together ? Math.max(frames, wanted.length) : wanted.length;
  const helpers = Array.from(
    { length: Math.min(making.threads, most) - 1 },
    () => new HelpingLane(ground, making.signal),
  );
  const before = async (): Promise<void> => told.before(await making.measureBefore());
  try {
    const lanes: readonly AssignedLane[] = [{ lane: own, before }, ...helpers.map((lane) => ({ lane }))];
    if (together) await allShared(wanted, ground, lanes, told, making.signal);
    else await eachAlone(wanted, lanes, told, making.signal);
  } finally {
    await Promise.all(helpers.map((helper) => helper.end()));
  }
  return told.all();
};

interface AssignedLane {
  readonly lane: Lane;
  /** What this lane does besides: it measures the frames as they came. */
  readonly before?: () => Promise<void>;
}

const isShared = (wanted: readonly WantedRun[], ground: RunGround): boolean =>
  wanted.length > 1 &&
  sharedRuns(
    wanted.map(({ run }) => run),
    ground,
  ) !== null;

/** Lets each lane take what is next until nothing is left, or one of them has failed. */
const inLanes = async <Task>(
  lanes: readonly AssignedLane[],
  next: (lane: AssignedLane) => Task | undefined,
  work: (task: Task, lane: AssignedLane) => Promise<void>,
  signal: AbortSignal | undefined,
): Promise<void> => {
  let failed = false;
  await Promise.all(
    lanes.map(async (own) => {
      try {
        for (let task = next(own); task !== undefined && !failed; task = next(own)) {
          signal?.throwIfAborted();
          await work(task, own);
        }
      } catch (error) {
        failed = true;
        throw error;
      }
    }),
  );
};

const eachAlone = async (
  wanted: readonly WantedRun[],
  lanes: readonly AssignedLane[],
  told: Told,
  signal: AbortSignal | undefined,
): Promise<void> => {
  const waiting = wanted.map((_, i) => i);
  // The lane that measures the frames as they came does so before anything else.
  const ready = new Map(lanes.map(({ lane, before }) => [lane, before?.()]));
  await inLanes(
    lanes,
    ({ before }) => (before ? waiting.shift() : waiting.pop()),
    async (index, { lane }) => {
      await ready.get(lane);
      told.made(index, await lane.make(wanted[index], (share) => told.share(index, share)));
    },
    signal,
  );
};

const allShared = async (
  wanted: readonly WantedRun[],
  ground: RunGround,
  lanes: readonly AssignedLane[],
  told: Told,
  signal: AbortSignal | undefined,
): Promise<void> => {
  const { from, to } = ground.frames;
  const atOnce = runsAtOnce(ground);
  for (let first = 0; first < wanted.length; first += atOnce) {
    const group = wanted.slice(first, first + atOnce);
    const treated = group.map(() => ({ after: new Map<number, Picture>(), seconds: 0 }));
    for (const { lane } of lanes) lane.share(group);
    const frames = Array.from({ length: to - from }, (_, i) => from + i);
    await inLanes(
      lanes,
      ({ before }) => {
        // What another thread has done is only heard of between two frames: it is given several at a time.
        const some = before ? 1 : Math.ceil(frames.length / (2 * lanes.length));
        return frames.length === 0 ? undefined : frames.splice(0, some);
      },
      async (indexes, { lane }) => {
        for (const [i, { pictures, seconds }] of (await lane.treat(indexes)).entries())
          for (const [k, run] of treated.entries()) {
            run.after.set(indexes[i], pictures[k]);
            run.seconds += seconds[k];
            told.share(first + k, (TREATED_AT * run.after.size) / (to - from));
          }
      },
      signal,
    );
    const waiting = group.map((_, k) => k);
    let isMeasured = first > 0;
    await inLanes<number | 'before'>(
      lanes,
      ({ before }) => {
        if (!before || isMeasured) return waiting.shift();
        isMeasured = true;
        return 'before';
      },
      async (task, { lane, before }) => {
        if (task === 'before') return before?.();
        const { after, seconds } = treated[task];
        // They come from two threads: in their order again. What is measured needs no room here any more.
        const ordered = new Map([...after].sort(([a], [b]) => a - b));
        after.clear();
        told.made(first + task, await lane.measure(group[task], ordered, seconds));
      },
      signal,
    );
  }
};

/** What there is to say of runs while they are made. */
class Told {
  private readonly done: (TrialRun | undefined)[];
  private readonly measured: (MadeRun | undefined)[];
  private readonly shares: number[];
  private found: readonly Finding[] | null = null;
  private handed = 0;

  constructor(
    count: number,
    private readonly making: Pick<Making, 'tell' | 'onRun'>,
  ) {
    this.done = Array.from({ length: count });
    this.measured = Array.from({ length: count });
    this.shares = new Array<number>(count).fill(0);
  }

  /** How much of a run is done. */
  share(index: number, share: number): void {
    this.shares[index] = share;
    const sum = this.shares.reduce((a, b) => a + b, 0);
    this.making.tell(sum / this.shares.length, this.done.filter((d) => d).length);
  }

  made(index: number, run: MadeRun): void {
    this.measured[index] = run;
    this.share(index, 1);
    this.hand();
  }

  /** What was found before: from now on it can be said what a run gained. */
  before(found: readonly Finding[]): void {
    this.found = found;
    this.hand();
  }

  all(): { runs: TrialRun[]; before: readonly Finding[] } {
    return { runs: this.done.map((run) => run!), before: this.found! };
  }

  private hand(): void {
    const { found, done } = this;
    if (!found) return;
    for (const [i, run] of this.measured.entries()) if (run) done[i] ??= setAgainst(run, found);
    for (let next = done[this.handed]; next; next = done[this.handed]) {
      this.making.onRun(next);
      this.handed++;
    }
  }
}
