import { randomUUID } from 'node:crypto';
import { basename } from 'node:path';
import { MessageChannel } from 'node:worker_threads';
import type { Logger } from 'pino';
import { printable, type Overrides } from '@bevrin/contract';
import type { RecheckRow } from '../database/schema.js';
import { hearAnnouncements } from '../events/announcements.js';
import { explain, isUnreachable, Problem } from '../http/problem.js';
import type { Store } from '../store.js';
import { Reception, type PresentVersion } from './receive.js';
import type { RecheckOutcome } from './recheck-task.js';
import { threadsFor } from './threads.js';
import type { RunningWorker } from './worker.js';

/** As for measurements: who works at a recheck says so, and when nothing is heard somebody else does. */
const RENEW_EVERY_MS = 2500;
const LEASE_SEC = 10;
const LOOK_EVERY_MS = 1000;
const TELL_EVERY_MS = 500;
/** One that was begun this often without coming to an end is given up. */
const MOST_ATTEMPTS = 4;

/** Proves repaired files one after another, beside whoever measures and tries. */
export const createRecheckWorker = async (store: Store, log: Logger): Promise<RunningWorker> => {
  const worker = new RecheckWorker(store, log);
  await worker.start();
  return worker;
};

class RecheckWorker implements RunningWorker {
  private readonly threads = threadsFor('recheck-thread', 'rechecking');
  private readonly me = randomUUID();
  private readonly stopping = new AbortController();
  private readonly ends: (() => Promise<void> | void)[] = [];
  private readonly reception: Reception;
  private working: Promise<void> | null = null;
  private inHand: { readonly id: string; readonly end: AbortController } | null = null;

  constructor(
    private readonly store: Store,
    private readonly log: Logger,
  ) {
    this.reception = new Reception(store.clips, store.pictures);
  }

  async start(): Promise<void> {
    const listening = await hearAnnouncements(
      this.store.connection,
      (what) => void (what.kind === 'work' && this.wake()),
      () => this.wake(),
    );
    this.ends.push(() => listening.stop());
    const timers = [
      setInterval(() => this.wake(), LOOK_EVERY_MS),
      setInterval(() => void this.stillWanted(), RENEW_EVERY_MS),
    ];
    this.ends.push(() => timers.forEach(clearInterval));
    this.wake();
  }

  async stop(): Promise<void> {
    this.stopping.abort();
    for (const end of this.ends) await end();
    this.inHand?.end.abort();
    await this.threads.end();
    await this.working?.catch(() => undefined);
  }

  private wake(): void {
    if (this.stopping.signal.aborted || this.working || this.store.disk.paused) return;
    this.working = this.workAll()
      .catch((error: unknown) => {
        if (!this.stopping.signal.aborted)
          this.log[isUnreachable(error) ? 'debug' : 'error'](
            { err: error },
            'rechecks wait; they are tried again',
          );
      })
      .finally(() => (this.working = null));
  }

  private async stillWanted(): Promise<void> {
    if (!this.inHand) return;
    const { id, end } = this.inHand;
    const wanted = await this.store.rechecks.renew(id, this.me, LEASE_SEC).catch(() => true);
    if (!wanted) end.abort();
  }

  private async workAll(): Promise<void> {
    while (!this.stopping.signal.aborted) {
      const row = await this.store.rechecks.claimNext(this.me, LEASE_SEC);
      if (!row) return;
      const end = new AbortController();
      this.inHand = { id: row.id, end };
      try {
        await this.attempt(row, end.signal);
      } catch (error) {
        await this.failed(row, end.signal, error);
      } finally {
        this.inHand = null;
      }
    }
  }

  private async attempt(row: RecheckRow, signal: AbortSignal): Promise<void> {
    const { clips, rechecks, plans } = this.store;
    const { version, approval } = await rechecks.row(row.id);
    const clip = await clips.measuredRow(row.clipId);
    if (row.attempts > MOST_ATTEMPTS)
      throw new Problem(
        503,
        `${clip.name}: its recheck was begun ${MOST_ATTEMPTS} times and cut off each time. Have it rechecked again.`,
      );
    const { measurement, overrides } = clip;
    if (!measurement || clip.version.path === null || version.path === null)
      throw new Problem(
        409,
        `${clip.name}: it is not measured. Measure it, and have the file rechecked again.`,
      );
    await this.lookAt(version as PresentVersion, signal);
    const { decided } = await plans.planOf(row.clipId);
    const { port1, port2 } = new MessageChannel();
    let told = 0;
    port1.on('message', ({ share }: { share: number }) => {
      if (Date.now() - told < TELL_EVERY_MS) return;
      told = Date.now();
      void rechecks.change(row, this.me, { progress: share }).catch(() => undefined);
    });
    try {
      const outcome = (await this.threads.run(
        {
          kind: 'recheck',
          original: clip.version.path,
          repaired: version.path,
          spec: await clips.specOf(clip),
          // The plan that it was made by, as it was given out.
          steps: approval?.frozen?.steps ?? decided.steps,
          overrides: overrides satisfies Overrides,
          measured: measurement,
          port: port2,
        },
        { transferList: [port2], signal },
      )) as RecheckOutcome;
      if ('message' in outcome) throw new RecheckFailed(outcome, version.path, clip.version.path);
      if (!('recheck' in outcome)) return;
      const { lies, recheck, measurement: found, under } = outcome;
      const frames = found?.clip.frames ?? 0;
      const first = lies ? Math.max(0, lies.offset) : 0;
      const last = lies ? Math.min(measurement.clip.frames, lies.offset + frames) - 1 : 0;
      await rechecks.finish(
        row,
        this.me,
        {
          ...ENDED,
          state: 'done',
          progress: 1,
          recheck: { ...recheck, original: clip.name },
          lies: lies && { ...lies, range: { startFrame: first, endFrame: last } },
        },
        found && { measurement: found, under },
      );
    } finally {
      port1.close();
    }
  }

  /** Pictures and facts of a file, for whoever opens it by itself. What is wrong with it the proof says better. */
  private async lookAt(version: PresentVersion, signal: AbortSignal): Promise<void> {
    await this.reception
      .receiveReturn(version, printable(basename(version.path)), signal)
      .catch((error: unknown) => this.log.warn({ err: error, versionId: version.id }, 'no pictures of it'));
    signal.throwIfAborted();
  }

  private async failed(row: RecheckRow, signal: AbortSignal, error: unknown): Promise<void> {
    const { rechecks } = this.store;
    // What the server's end cut short is made again at the next start.
    if (this.stopping.signal.aborted) {
      await rechecks.change(row, this.me, { ...ENDED, state: 'waiting', attempts: 0 }).catch(() => undefined);
      return;
    }
    if (signal.aborted) return;
    const passes = isUnreachable(error) || (error instanceof RecheckFailed && error.passes);
    if (passes && row.attempts < MOST_ATTEMPTS)
      return rechecks.change(row, this.me, { ...ENDED, state: 'waiting' });
    if (!(error instanceof Problem)) this.log.error({ err: error, recheckId: row.id }, 'recheck failed');
    await rechecks.change(row, this.me, { ...ENDED, state: 'failed', error: explain(error).message });
  }
}

const ENDED = { leasedBy: null, leasedUntil: null } as const;

/** A recheck that could not be made, in the sentence of the thread. */
class RecheckFailed extends Problem {
  readonly passes: boolean;

  constructor(outcome: Extract<RecheckOutcome, { message: string }>, ...paths: readonly string[]) {
    // A person knows a file by its name, not by where the house keeps it.
    super(
      422,
      paths.reduce((text, path) => text.replaceAll(path, basename(path)), outcome.message),
    );
    this.passes = outcome.passes;
  }
}
