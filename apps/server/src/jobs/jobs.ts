import { randomUUID } from 'node:crypto';
import { existsSync } from 'node:fs';
import { mkdir } from 'node:fs/promises';
import { join } from 'node:path';
import { isDeepStrictEqual } from 'node:util';
import { MessageChannel } from 'node:worker_threads';
import PgBoss from 'pg-boss';
import type { Logger } from 'pino';
import { Piscina } from 'piscina';
import { type Measurement, type Overrides } from '@bevrin/contract';
import { remeasurementFor, withReadingsOf } from '@bevrin/core';
import {
  ClipUnreadable,
  DecoderStopped,
  DiskFull,
  mustBeWholeJpeg,
  mustBeWholeProxy,
  openSource,
  probeClip,
  writePoster,
  writeProxy,
} from '@bevrin/media';
import { judgedUnder, type ClipStore } from '../clips/clips.js';
import type { Connection } from '../database/connect.js';
import type { ClipRow } from '../database/schema.js';
import type { Leases } from './leases.js';
import type { DiskWatch } from '../clips/disk-watch.js';
import { removeParts, writeWhole } from '../clips/files.js';
import type { MeasureOutcome, MeasureTask } from './measure-worker.js';
import { codeOf, explain, isUnreachable, Problem } from '../http/problem.js';

const QUEUE = 'measure';
/** The queue of versions before 0.1.0. */
const FORMER_QUEUE = 'measure-clip';
const POLL_SECONDS = 0.5;
/** A page sees progress about this often. */
const TELL_EVERY_MS = 400;
/** Whoever measures a clip says so this often, */
const RENEW_EVERY_MS = 2500;
/** and when nothing was heard for this long, somebody else does: four times missed is no hiccup. */
const LEASE_SEC = 10;
const SWEEP_EVERY_MS = 2000;
/** So many are put in the queue at once; the next sweep puts in more. */
const SWEPT_AT_ONCE = 50;
/** A clip that was begun this often without coming to an end, whatever ended it, is given up. */
const MOST_ATTEMPTS = 8;
const LONGEST_PAUSE_SEC = 60;

/**
 * Receives and measures clips one after another. What is to be done stands with the clips themselves; the queue only
 * hands it out. A clip that is being measured is leased: when its process ends, however it does, the lease runs out and
 * the clip is measured by whoever is there.
 */
export class MeasureJobs {
  private readonly boss: PgBoss;
  private readonly pool = new Piscina({
    filename: new URL('./measure-thread.mjs', import.meta.url).href,
    maxThreads: 1,
    execArgv: [],
  });
  private readonly stopping = new AbortController();
  private readonly me = randomUUID();
  private readonly running = new Set<string>();
  private readonly timers: NodeJS.Timeout[] = [];
  /** One file after another is looked at. */
  private looking: Promise<void> = Promise.resolve();

  constructor(
    connection: Pick<Connection, 'executeSql'>,
    private readonly store: ClipStore,
    private readonly leases: Leases,
    private readonly disk: DiskWatch,
    private readonly log: Logger,
  ) {
    this.boss = new PgBoss({ db: connection });
    this.boss.on('error', (error) => log.error({ err: error }, 'queue'));
  }

  async start(): Promise<void> {
    await this.boss.start();
    await this.boss.deleteQueue(FORMER_QUEUE).catch(() => undefined);
    // A clip stands in this queue once, however often it is put in.
    await this.boss.createQueue(QUEUE, { name: QUEUE, policy: 'short', retryLimit: 0, expireInHours: 23 });
    await this.boss.work<{ clipId: string }>(
      QUEUE,
      { pollingIntervalSeconds: POLL_SECONDS, batchSize: 1 },
      async ([job]) => this.run(job.data.clipId),
    );
    await this.sweep();
    this.timers.push(
      setInterval(() => void this.sweep().catch((e: unknown) => this.unreached(e)), SWEEP_EVERY_MS),
      setInterval(() => void this.renew().catch((e: unknown) => this.unreached(e)), RENEW_EVERY_MS),
    );
  }

  /**
   * Puts a clip in the queue; its state tells the pages.
   * @param fresh whether it is measured from nothing, whatever is known of it
   */
  async enqueue(clipId: string, fresh = false): Promise<void> {
    await this.store.change(clipId, {
      state: 'queued',
      progress: 0,
      error: null,
      attempts: 0,
      leasedBy: null,
      leasedUntil: null,
      ...(fresh ? { fresh } : {}),
    });
    await this.send(clipId);
    this.lookAt(clipId);
  }

  /**
   * Reads facts and poster of a clip that has just come in, so that a list shows it long before its turn to be measured.
   * What goes wrong here is said when its turn comes.
   */
  private lookAt(clipId: string): void {
    this.looking = this.looking
      .then(async () => {
        if (this.disk.paused || this.stopping.signal.aborted) return;
        const row = await this.store.row(clipId);
        if (row.facts || !row.path) return;
        const clip = await probeClip(await openSource(row.path));
        await mkdir(this.store.folderOf(clipId), { recursive: true });
        await writeWhole(this.posterOf(clipId), (at) => writePoster(clip, at), mustBeWholeJpeg);
        await this.store.change(clipId, { facts: { ...clip.facts, file: row.name } });
      })
      .catch((error: unknown) => this.log.debug({ err: error, clipId }, 'not looked at yet'));
  }

  private posterOf(clipId: string): string {
    return join(this.store.folderOf(clipId), 'poster.jpg');
  }

  /** Measures what a technician has overruled since the clip was measured; what is in the queue is seen to there. */
  async catchUp(clipId: string): Promise<void> {
    const row = await this.store.row(clipId);
    if (row.state !== 'measured' && !(row.state === 'failed' && row.measurement)) return;
    if (lagsBehind(row)) await this.enqueue(clipId);
    // What could not be measured was taken back: the readings are what they should be again.
    else if (row.state === 'failed')
      await this.store.change(clipId, { state: 'measured', progress: 1, error: null });
  }

  async stop(): Promise<void> {
    this.stopping.abort();
    this.timers.forEach(clearInterval);
    await this.boss.stop({ graceful: false, wait: true, timeout: 2000 });
    await this.pool.destroy();
    // Who comes next need not wait until the lease runs out.
    for (const id of this.running)
      await this.leases.release(id, this.me, { state: 'queued' }).catch(() => null);
  }

  private async send(clipId: string): Promise<void> {
    await this.boss.send(QUEUE, { clipId }, { singletonKey: clipId });
  }

  /** Puts in the queue what waits and is not in it: after a crash, a pause, or a lease that ran out. */
  private async sweep(): Promise<void> {
    if (this.disk.paused || this.stopping.signal.aborted) return;
    const waiting = await this.leases.waiting(SWEPT_AT_ONCE);
    for (const id of waiting) if (!this.running.has(id)) await this.send(id);
  }

  private async renew(): Promise<void> {
    await this.leases.renew([...this.running], this.me, LEASE_SEC);
  }

  private unreached(error: unknown): void {
    if (this.stopping.signal.aborted) return;
    const how = isUnreachable(error) ? 'debug' : 'error';
    this.log[how]({ err: error }, 'the queue could not be looked after; it is tried again');
  }

  private async run(clipId: string): Promise<void> {
    if (this.disk.paused || this.running.has(clipId)) return;
    const row = await this.leases.claim(clipId, this.me, LEASE_SEC);
    if (!row?.path) return;
    this.running.add(clipId);
    try {
      await this.measureClaimed({ ...row, path: row.path });
    } catch (error) {
      // A measurement that the server's end cut short is not a failure: it is done again at the next start.
      if (!this.stopping.signal.aborted) await this.failed(row, error);
    } finally {
      this.running.delete(clipId);
    }
  }

  private async measureClaimed(row: ClipRow & { path: string }): Promise<void> {
    const { id } = row;
    if (row.attempts > MOST_ATTEMPTS)
      throw new Problem(
        503,
        `${row.name}: measuring it was begun ${MOST_ATTEMPTS} times and cut off each time. See whether the machine runs out of memory, then measure it again.`,
      );
    await this.receive(row);
    const { measurement, machine } = await this.readings(row, row.fresh);
    const spec = await this.store.specOf(await this.store.row(id));
    await this.leases.release(id, this.me, {
      state: 'measured',
      progress: 1,
      error: null,
      attempts: 0,
      fresh: false,
      measurement,
      machine,
      measuredUnder: row.overrides,
      ...judgedUnder(measurement, spec),
    });
    await this.catchUp(id);
  }

  /** What could not be done for a reason that passes is done again; what is wrong with the file is said. */
  private async failed(row: ClipRow, error: unknown): Promise<void> {
    if (error instanceof DiskFull || codeOf(error) === 'ENOSPC') {
      await this.disk.look();
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
        error: withName(message, row.path ?? '', row.name),
      })
      .catch((e: unknown) => this.unreached(e));
  }

  /** Facts, poster and playing copy, so that the clip can be looked at while it is measured. */
  private async receive(row: ClipRow & { path: string }): Promise<void> {
    const { id, path, name, facts, fresh } = row;
    const folder = this.store.folderOf(id);
    const [poster, proxy] = [this.posterOf(id), join(folder, 'proxy.mp4')];
    // A clip that was measured has been received whole.
    if (row.measurement && !fresh && existsSync(poster) && existsSync(proxy)) return;
    const clip = await probeClip(await openSource(path));
    const wholeProxy = (at: string): Promise<void> => mustBeWholeProxy(clip, at);
    const there = facts !== null && !fresh && existsSync(poster) && existsSync(proxy);
    if (
      there &&
      (await wholeProxy(proxy).then(
        () => true,
        () => false,
      ))
    ) {
      // What a server that was killed had begun beside them.
      for (const path of [poster, proxy]) await removeParts(path);
      return;
    }
    await this.store.change(id, { facts: { ...clip.facts, file: name } });
    await mkdir(folder, { recursive: true });
    if (fresh || !existsSync(poster))
      await writeWhole(poster, (at) => writePoster(clip, at), mustBeWholeJpeg);
    await writeWhole(proxy, (at) => writeProxy(clip, at, this.stopping.signal), wholeProxy);
    await this.store.tellAgain(id);
  }

  /** The readings of a clip as they are wanted: only what is not known yet is measured. */
  private async readings(
    row: ClipRow & { path: string },
    fresh: boolean,
  ): Promise<{ measurement: Measurement; machine: Measurement | null }> {
    const { id, path, name, overrides } = row;
    const look = async (how: Omit<MeasureTask, 'path' | 'port'>): Promise<Measurement> => {
      const seen = await this.measure(id, { path, ...how });
      return { ...seen, clip: { ...seen.clip, file: name } };
    };
    const before = fresh ? { ...row, measurement: null, machine: null } : row;
    const untouched = isPlain(before.measuredUnder) ? before.measurement : before.machine;
    const machine = untouched ?? (await look({}));
    if (isPlain(overrides)) return { measurement: machine, machine: null };
    const { keep, only } = remeasurementFor(
      [
        { measurement: machine, under: {} },
        ...(before.measurement
          ? [{ measurement: before.measurement, under: before.measuredUnder ?? {} }]
          : []),
      ],
      overrides,
    );
    if (!keep) return { measurement: await look({ overrides }), machine };
    return { measurement: withReadingsOf(keep, await look({ overrides, only }), only), machine };
  }

  private async measure(clipId: string, task: Omit<MeasureTask, 'port'>): Promise<Measurement> {
    const { port1, port2 } = new MessageChannel();
    let told = 0;
    port1.on('message', (share: number) => {
      if (Date.now() - told < TELL_EVERY_MS) return;
      told = Date.now();
      this.store
        .change(clipId, { progress: share })
        .catch((error: unknown) => this.log.warn({ err: error }, 'progress not stored'));
    });
    try {
      const outcome = (await this.pool.run(
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

const isPlain = (overrides: Overrides | null): boolean => Object.keys(overrides ?? {}).length === 0;

/** Whether it was overruled since it was measured. */
const lagsBehind = ({ overrides, measuredUnder }: ClipRow): boolean =>
  !isDeepStrictEqual(overrides, measuredUnder ?? {});

/** What a worker said, as the error that it was there; the sentence is complete already. */
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
