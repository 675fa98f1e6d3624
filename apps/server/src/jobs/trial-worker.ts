import { randomUUID } from 'node:crypto';
import { mkdir, readdir, rm, stat } from 'node:fs/promises';
import { availableParallelism } from 'node:os';
import { basename, join } from 'node:path';
import { MessageChannel } from 'node:worker_threads';
import type { Logger } from 'pino';
import type { Trial } from '@bevrin/contract';
import type { TrialRow } from '../database/schema.js';
import { hearAnnouncements } from '../events/announcements.js';
import { explain, isUnreachable, Problem } from '../http/problem.js';
import type { Store } from '../store.js';
import type { TrialNews, TrialOutcome, TrialTask } from './trial-task.js';
import { threadsFor } from './threads.js';
import type { RunningWorker } from './worker.js';

/** As for measurements: who works at a trial says so, and when nothing is heard somebody else does. */
const RENEW_EVERY_MS = 2500;
const LEASE_SEC = 10;
const LOOK_EVERY_MS = 1000;
const TELL_EVERY_MS = 500;
/** A trial that was begun this often without coming to an end is given up. */
const MOST_ATTEMPTS = 4;
/** Trials that are made at once: most of one is one thread's work. */
const AT_ONCE = Math.max(1, Math.min(4, availableParallelism()));
/** What nobody asked for is tried on so many frames, with so many values: enough to open a plan with. */
const SMALL = { mostFrames: 10, mostBytes: 100 * 2 ** 20, mostValues: 3 };

/** Makes trials one after another, beside whoever measures. */
export const createTrialWorker = async (store: Store, log: Logger): Promise<RunningWorker> => {
  const worker = new TrialWorker(store, log);
  await worker.start();
  return worker;
};

class TrialWorker implements RunningWorker {
  private readonly threads = threadsFor('trial-thread', 'trying', AT_ONCE);
  private readonly stopping = new AbortController();
  private readonly me = randomUUID();
  /** The trials in hand, and how to end each. */
  private readonly inHand = new Map<string, AbortController>();
  private readonly timers: NodeJS.Timeout[] = [];
  private readonly ends: (() => Promise<void>)[] = [];
  private readonly trying = new Set<Promise<void>>();

  constructor(
    private readonly store: Store,
    private readonly log: Logger,
  ) {}

  async start(): Promise<void> {
    const listening = await hearAnnouncements(
      this.store.connection,
      (what) => {
        if (what.kind === 'work') this.wake();
        if (what.kind === 'trial' && this.inHand.has(what.trialId)) void this.stillWanted(what.trialId);
      },
      () => this.wake(),
    );
    this.ends.push(() => listening.stop());
    this.timers.push(
      setInterval(() => this.wake(), LOOK_EVERY_MS),
      setInterval(() => [...this.inHand.keys()].forEach((id) => void this.stillWanted(id)), RENEW_EVERY_MS),
    );
    this.store.disk.onChange(
      () => void this.store.trials.dropFrames().catch((e: unknown) => this.unreached(e)),
    );
    this.wake();
  }

  async stop(): Promise<void> {
    this.stopping.abort();
    this.timers.forEach(clearInterval);
    for (const end of this.ends) await end();
    for (const end of this.inHand.values()) end.abort();
    await this.threads.end();
    await Promise.allSettled(this.trying);
  }

  private wake(): void {
    if (this.store.disk.paused || this.stopping.signal.aborted) return;
    while (this.trying.size < AT_ONCE) {
      const one: Promise<void> = this.tryAll()
        .catch((e: unknown) => this.unreached(e))
        .finally(() => this.trying.delete(one));
      this.trying.add(one);
    }
  }

  private unreached(error: unknown): void {
    if (this.stopping.signal.aborted) return;
    this.log[isUnreachable(error) ? 'debug' : 'error']({ err: error }, 'trials wait; they are tried again');
  }

  /** Renews the lease; a trial that was cancelled, or taken over, is ended here. */
  private async stillWanted(id: string): Promise<void> {
    const wanted = await this.store.trials.renew(id, this.me, LEASE_SEC).catch(() => true);
    if (!wanted) this.inHand.get(id)?.abort();
  }

  private async tryAll(): Promise<void> {
    while (!this.store.disk.paused && !this.stopping.signal.aborted) {
      const row = await this.store.trials.claimNext(this.me, LEASE_SEC);
      if (!row) return;
      await this.tryClaimed(row);
    }
  }

  private async tryClaimed(row: TrialRow): Promise<void> {
    const { trials } = this.store;
    const end = new AbortController();
    const began = Date.now();
    const spent = (): number => row.seconds + (Date.now() - began) / 1000;
    this.inHand.set(row.id, end);
    try {
      const left = row.who === '' ? trials.limits.trialSeconds - (await trials.spentOn(row)) : Infinity;
      if (left <= 0) return await this.leaveOut(row, spent());
      const over = Number.isFinite(left) ? setTimeout(() => end.abort('limit'), 1000 * left) : undefined;
      try {
        const { trial, frameBytes } = await this.attempt(row, end.signal);
        await trials.change(row, this.me, {
          ...ENDED,
          state: 'done',
          progress: 1,
          seconds: spent(),
          trial,
          frameBytes,
        });
        await trials.dropFrames();
      } finally {
        clearTimeout(over);
      }
    } catch (error) {
      await this.failed(row, end.signal, error, spent()).catch((e: unknown) => this.unreached(e));
    } finally {
      this.inHand.delete(row.id);
    }
  }

  private async attempt(row: TrialRow, end: AbortSignal): Promise<{ trial: Trial; frameBytes: number }> {
    const { trials, clips } = this.store;
    const clip = await clips.measuredRow(row.clipId);
    if (row.attempts > MOST_ATTEMPTS)
      throw new Problem(
        503,
        `${clip.name}: the trial was begun ${MOST_ATTEMPTS} times and cut off each time. Ask for a smaller one.`,
      );
    const { measurement, version } = clip;
    if (!measurement || version.id !== row.versionId || version.path === null)
      throw new Problem(409, `${clip.name}: another file has come in its place. Try again on that one.`);
    const out = trials.folderOf(row);
    await rm(out, { recursive: true, force: true });
    await mkdir(out, { recursive: true });
    const { port1, port2 } = new MessageChannel();
    let told = 0;
    // Where the database goes in between, the trial fails by what it waits for, not by this.
    let written = trials
      .change(row, this.me, { trial: null, frameBytes: 0 })
      .catch((e: unknown) => this.unreached(e));
    const write = (what: () => Promise<void>): void => {
      written = written.then(what).catch((e: unknown) => this.unreached(e));
    };
    port1.on('message', (news: TrialNews) => {
      if ('run' in news)
        return write(() => trials.addRun(row, this.me, clip.name, news.range, withFileName(news.run)));
      if (Date.now() - told < TELL_EVERY_MS) return;
      told = Date.now();
      write(() => trials.change(row, this.me, { progress: news.share }));
    });
    try {
      const outcome = (await this.threads.run(
        {
          path: version.path,
          ...(await this.wanted(row)),
          ...row.order,
          // Somebody waits for what was asked for; what nobody asked for is made beside others.
          ...(row.who === '' ? SMALL : { threads: AT_ONCE }),
          measured: measurement,
          viewing: clip.overrides.viewing,
          spec: await clips.specOf(clip),
          out,
          port: port2,
        },
        { transferList: [port2], signal: end },
      )) as TrialOutcome;
      await written;
      if (!('trial' in outcome)) throw new TrialFailed(outcome, version.path, clip.name);
      const { trial } = outcome;
      return {
        trial: { ...trial, clip: clip.name, runs: trial.runs.map(withFileName) },
        frameBytes: await bytesIn(out),
      };
    } finally {
      port1.close();
    }
  }

  /** A treatment, or the whole plan, with the steps as they were decided on. */
  private async wanted(row: TrialRow): Promise<Pick<TrialTask, 'treatment' | 'plan'>> {
    const { decided } = await this.store.plans.planOf(row.clipId);
    return { treatment: row.treatment === 'plan' ? null : row.treatment, plan: decided.steps };
  }

  private async failed(row: TrialRow, end: AbortSignal, error: unknown, seconds: number): Promise<void> {
    const { trials } = this.store;
    // What the server's end cut short is made again at the next start.
    if (this.stopping.signal.aborted)
      return trials.change(row, this.me, { ...ENDED, state: 'waiting', progress: 0, attempts: 0 });
    if (end.aborted && end.reason === 'limit') return this.leaveOut(row, seconds);
    const frameBytes = await bytesIn(trials.folderOf(row));
    if (end.aborted) {
      await trials.keepFrames(row, frameBytes);
      return;
    }
    if (error instanceof TrialFailed && error.outcome.full) {
      await this.store.disk.look();
      await rm(trials.folderOf(row), { recursive: true, force: true });
      return trials.change(row, this.me, { ...ENDED, state: 'waiting', progress: 0, attempts: 0 });
    }
    const passes = isUnreachable(error) || (error instanceof TrialFailed && error.outcome.passes);
    if (passes && row.attempts < MOST_ATTEMPTS)
      return trials.change(row, this.me, { ...ENDED, state: 'waiting', progress: 0 });
    if (!(error instanceof TrialFailed) && !(error instanceof Problem))
      this.log.error({ err: error, trialId: row.id }, 'trial failed');
    await trials.change(row, this.me, {
      ...ENDED,
      // What nobody asked for and cannot be is nobody's failure.
      state: row.who === '' && error instanceof TrialFailed ? 'skipped' : 'failed',
      seconds,
      error: explain(error).message,
      frameBytes,
    });
  }

  private leaveOut(row: TrialRow, seconds: number): Promise<void> {
    const minutes = this.store.trials.limits.trialSeconds / 60;
    return this.store.trials.change(row, this.me, {
      ...ENDED,
      state: 'skipped',
      seconds,
      error: `Not tried: what the house tries by itself is limited to ${Number(minutes.toFixed(1))} minutes a clip. Ask for it to have it tried.`,
    });
  }
}

const ENDED = { leasedBy: null, leasedUntil: null } as const;

/** A trial that could not be made, in the sentence of the thread. */
class TrialFailed extends Problem {
  constructor(
    readonly outcome: Exclude<TrialOutcome, { trial: unknown }>,
    path: string,
    name: string,
  ) {
    // A person knows the file by its name, not by where the house keeps it.
    super(422, outcome.message.replaceAll(path, name));
  }
}

/** Frames of a run by the name of their file: where a house keeps them is its own affair. */
const withFileName = <Run extends Trial['runs'][number]>(run: Run): Run => ({
  ...run,
  file: run.file && basename(run.file),
  mask: run.mask && basename(run.mask),
  mesh: run.mesh && basename(run.mesh),
});

const bytesIn = async (folder: string): Promise<number> => {
  const names = await readdir(folder).catch(() => [] as string[]);
  const sizes = await Promise.all(
    names.map((n) =>
      stat(join(folder, n)).then(
        (s) => s.size,
        () => 0,
      ),
    ),
  );
  return sizes.reduce((sum, s) => sum + s, 0);
};
