import { randomUUID } from 'node:crypto';
import { isDeepStrictEqual } from 'node:util';
import { MessageChannel } from 'node:worker_threads';
import { and, eq, isNotNull, isNull } from 'drizzle-orm';
import type { Logger } from 'pino';
import type { Measurement, Overrides } from '@bevrin/contract';
import { remeasurementFor, withReadingsOf, type KnownMeasurement } from '@bevrin/core';
import { ClipUnreadable, DecoderStopped, DiskFull } from '@bevrin/media';
import { judgedUnder } from '../clips/clip-rows.js';
import { clips, versions } from '../database/schema.js';
import { hearAnnouncements } from '../events/announcements.js';
import { codeOf, explain, isUnreachable, Problem } from '../http/problem.js';
import type { Store } from '../store.js';
import { Leases } from './leases.js';
import type { MeasureOutcome, MeasureTask } from './measure-task.js';
import { Reception, type PresentClip } from './receive.js';
import { threadsFor } from './threads.js';

/** A page sees progress about this often. */
const TELL_EVERY_MS = 400;
/** Whoever measures a clip says so this often, */
const RENEW_EVERY_MS = 2500;
/** and when nothing was heard for this long, somebody else does: four times missed is no hiccup. */
const LEASE_SEC = 10;
/** What was not announced, or whose lease has run out, is found this often. */
const LOOK_EVERY_MS = 1000;
/** A clip that was begun this often without coming to an end, whatever ended it, is given up. */
const MOST_ATTEMPTS = 8;
const LONGEST_PAUSE_SEC = 60;

/** What receives and measures. */
export interface RunningWorker {
  stop(): Promise<void>;
}

/**
 * Receives and measures clips one after another. What is to be done stands with the clips themselves: a clip that is
 * measured is leased, and when its process ends, however it does, the lease runs out and whoever is there measures it.
 */
export const createWorker = async (store: Store, log: Logger): Promise<RunningWorker> => {
  const worker = new Worker(store, log);
  await worker.start();
  return worker;
};

class Worker implements RunningWorker {
  private readonly threads = threadsFor('measure-thread', 'measuring');
  private readonly stopping = new AbortController();
  private readonly me = randomUUID();
  private readonly leases: Leases;
  private readonly reception: Reception;
  /** The clip in hand. */
  private inHand: string | null = null;
  /** Clips whose file could not be looked at: what is wrong is said when their turn comes. */
  private readonly unlookable = new Set<string>();
  private readonly timers: NodeJS.Timeout[] = [];
  private readonly ends: (() => Promise<void>)[] = [];
  private measuring: Promise<void> | null = null;
  private looking: Promise<void> | null = null;

  constructor(
    private readonly store: Store,
    private readonly log: Logger,
  ) {
    this.leases = new Leases(store.database, store.clips);
    this.reception = new Reception(store.clips, store.pictures);
  }

  async start(): Promise<void> {
    const listening = await hearAnnouncements(
      this.store.connection,
      (what) => what.kind === 'work' && this.wake(),
      () => this.wake(),
    );
    this.ends.push(() => listening.stop());
    this.timers.push(
      setInterval(() => this.wake(), LOOK_EVERY_MS),
      setInterval(() => {
        const held = this.inHand === null ? [] : [this.inHand];
        this.leases.renew(held, this.me, LEASE_SEC).catch((e: unknown) => this.unreached(e));
      }, RENEW_EVERY_MS),
    );
    this.wake();
  }

  async stop(): Promise<void> {
    this.stopping.abort();
    this.timers.forEach(clearInterval);
    for (const end of this.ends) await end();
    await this.threads.end();
    await Promise.allSettled([this.measuring, this.looking]);
    // Who comes next need not wait until the lease runs out.
    if (this.inHand !== null)
      await this.leases.release(this.inHand, this.me, { state: 'queued' }).catch(() => undefined);
  }

  /** There may be something to do: one clip at a time is measured, and beside it files that have come are looked at. */
  private wake(): void {
    if (this.store.disk.paused || this.stopping.signal.aborted) return;
    this.measuring ??= this.measureAll()
      .catch((e: unknown) => this.unreached(e))
      .finally(() => (this.measuring = null));
    this.looking ??= this.lookAtAll()
      .catch((e: unknown) => this.unreached(e))
      .finally(() => (this.looking = null));
  }

  private unreached(error: unknown): void {
    if (this.stopping.signal.aborted) return;
    const how = isUnreachable(error) ? 'debug' : 'error';
    this.log[how]({ err: error }, 'what waits could not be looked after; it is tried again');
  }

  private async measureAll(): Promise<void> {
    while (!this.store.disk.paused && !this.stopping.signal.aborted) {
      const row = await this.leases.claimNext(this.me, LEASE_SEC);
      if (!row) return;
      this.inHand = row.id;
      try {
        await this.measureClaimed(row as PresentClip);
      } catch (error) {
        // A measurement that the server's end cut short is not a failure: it is done again at the next start.
        if (this.stopping.signal.aborted) return;
        await this.failed(row as PresentClip, error);
      }
      this.inHand = null;
    }
  }

  private async lookAtAll(): Promise<void> {
    const { clips: store } = this.store;
    const fresh = and(eq(clips.state, 'queued'), isNotNull(versions.path), isNull(versions.facts))!;
    for (const row of await store.rows(fresh)) {
      if (this.store.disk.paused || this.stopping.signal.aborted) return;
      if (this.unlookable.has(row.id)) continue;
      await this.reception.lookAt(row as PresentClip).catch((error: unknown) => {
        this.unlookable.add(row.id);
        this.log.debug({ err: error, clipId: row.id }, 'not looked at yet');
      });
    }
  }

  private async measureClaimed(row: PresentClip): Promise<void> {
    const { id, overrides } = row;
    if (row.attempts > MOST_ATTEMPTS)
      throw new Problem(
        503,
        `${row.name}: measuring it was begun ${MOST_ATTEMPTS} times and cut off each time. See whether the machine runs out of memory, then measure it again.`,
      );
    const known = row.fresh ? [] : await this.knownOf(row);
    if (await this.tookBack(row, known)) return;
    const { clips: store, queue } = this.store;
    const received = await this.reception.receive(row, row.fresh, this.stopping.signal);
    const stillKnown = received.versionId === row.versionId ? known : [];
    const { measurement, machine } = await this.readings(received, stillKnown);
    const spec = await store.specOf(await store.row(id));
    await this.leases.release(id, this.me, async (tx) => ({
      ...DONE,
      ...(await store.addMeasurement(tx, received.version.id, { measurement, overrides, machine })),
      ...judgedUnder(measurement, spec),
    }));
    await queue.catchUp(id);
    await this.store.trials.propose(id);
  }

  /** Whether what is wanted was measured before: then nothing is looked at, and the file need not be there. */
  private async tookBack(row: PresentClip, known: readonly Known[]): Promise<boolean> {
    const wanted = known.find(({ under }) => isDeepStrictEqual(under, row.overrides));
    if (!wanted) return false;
    const machine = known.find(({ under }) => isPlain(under));
    const spec = await this.store.clips.specOf(row);
    await this.leases.release(row.id, this.me, {
      ...DONE,
      measurementId: wanted.id,
      machineId: isPlain(row.overrides) ? null : (machine?.id ?? null),
      ...judgedUnder(wanted.measurement, spec),
    });
    await this.store.queue.catchUp(row.id);
    await this.store.trials.propose(row.id);
    return true;
  }

  /** What could not be done for a reason that passes is done again; what is wrong with the file is said. */
  private async failed(row: PresentClip, error: unknown): Promise<void> {
    if (error instanceof DiskFull || codeOf(error) === 'ENOSPC') {
      await this.store.disk.look();
      await this.leases.release(row.id, this.me, { state: 'queued', progress: 0, attempts: 0 }, LEASE_SEC);
      return;
    }
    const passes = error instanceof DecoderStopped || isUnreachable(error);
    if (passes && row.attempts < MOST_ATTEMPTS) {
      const pauseSec = Math.min(LONGEST_PAUSE_SEC, 2 ** (row.attempts - 1));
      this.log.warn({ err: error, clipId: row.id, pauseSec }, 'measured again after a pause');
      await this.leases
        .release(row.id, this.me, { state: 'queued', progress: 0 }, pauseSec)
        // The database is away: the lease runs out by itself.
        .catch((e: unknown) => this.unreached(e));
      return;
    }
    if (!(error instanceof ClipUnreadable))
      this.log.error({ err: error, clipId: row.id }, 'measurement failed');
    const { message } = explain(error);
    await this.leases
      .release(row.id, this.me, {
        state: 'failed',
        progress: 0,
        attempts: 0,
        fresh: false,
        error: withName(message, row.version.path, row.name),
      })
      .catch((e: unknown) => this.unreached(e));
  }

  /** The readings of a clip as they are wanted: only what is not known yet is measured. */
  private async readings(
    row: PresentClip,
    known: readonly Known[],
  ): Promise<{ measurement: Measurement; machine: Measurement | string | null }> {
    const { name, overrides, version } = row;
    const look = async (how: Omit<MeasureTask, 'path' | 'port'>): Promise<Measurement> => {
      const found = await this.measure(row.id, { path: version.path, ...how });
      return { ...found, clip: { ...found.clip, file: name } };
    };
    const machine = known.find(({ under }) => isPlain(under));
    if (isPlain(overrides)) return { measurement: machine?.measurement ?? (await look({})), machine: null };
    const untouched = machine?.measurement ?? (await look({}));
    const { keep, only } = remeasurementFor([{ measurement: untouched, under: {} }, ...known], overrides);
    const measurement = keep
      ? withReadingsOf(keep, await look({ overrides, only }), only)
      : await look({ overrides });
    return { measurement, machine: machine?.id ?? untouched };
  }

  /** What was measured of a clip before, and what was overruled then. */
  private async knownOf({ measurementId, machineId }: PresentClip): Promise<Known[]> {
    const found = await this.store.clips.measurements.find([measurementId, machineId]);
    return [...found].flatMap(([id, { measurement, under }]) =>
      measurement ? [{ id, measurement, under }] : [],
    );
  }

  private async measure(clipId: string, task: Omit<MeasureTask, 'port'>): Promise<Measurement> {
    const { port1, port2 } = new MessageChannel();
    let told = 0;
    port1.on('message', (share: number) => {
      if (Date.now() - told < TELL_EVERY_MS) return;
      told = Date.now();
      this.store.clips
        .change(clipId, { progress: share })
        .catch((error: unknown) => this.log.warn({ err: error }, 'progress not stored'));
    });
    try {
      const outcome = (await this.threads.run(
        { ...task, port: port2 },
        { transferList: [port2], signal: this.stopping.signal },
      )) as MeasureOutcome;
      if ('measurement' in outcome) return outcome.measurement;
      throw FAILURES[outcome.failed](outcome.message);
    } finally {
      port1.close();
    }
  }
}

/** How a clip stands that has been measured. */
const DONE = { state: 'measured', progress: 1, error: null, attempts: 0, fresh: false } as const;

interface Known extends KnownMeasurement {
  readonly id: string;
}

const isPlain = (overrides: Overrides): boolean => Object.keys(overrides).length === 0;

/** What a thread said, as the error that it was there; the sentence is complete already. */
const FAILURES: Record<Extract<MeasureOutcome, { failed: string }>['failed'], (message: string) => Error> = {
  ClipUnreadable: (message) => Object.assign(new ClipUnreadable('', '', ''), { message }),
  DecoderStopped: (message) => Object.assign(new DecoderStopped('', '', null), { message }),
  DiskFull: () => new DiskFull(),
};

/** Uploads are stored under a neutral name; a person knows the file by its own. */
const withName = (message: string, path: string, name: string): string => {
  const stored = path.slice(path.lastIndexOf('/') + 1);
  return message.startsWith(`${stored}:`) ? `${name}${message.slice(stored.length)}` : message;
};
