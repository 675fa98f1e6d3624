import { existsSync } from 'node:fs';
import { mkdir } from 'node:fs/promises';
import { join } from 'node:path';
import { isDeepStrictEqual } from 'node:util';
import { MessageChannel } from 'node:worker_threads';
import PgBoss from 'pg-boss';
import type { Logger } from 'pino';
import { Piscina } from 'piscina';
import { DEFECTS, type Measurement, type Overrides } from '@bevrin/contract';
import { concernedBy, withReadingsOf } from '@bevrin/core';
import { ClipUnreadable, openSource, probeClip, writePoster, writeProxy } from '@bevrin/media';
import { judgedUnder, type ClipStore } from './clips.js';
import type { ClipRow } from './database/schema.js';
import type { MeasureTask } from './measure-worker.js';
import { explain } from './problem.js';

const QUEUE = 'measure-clip';
const POLL_SECONDS = 0.5;
/** A page sees progress about this often. */
const TELL_EVERY_MS = 400;

/**
 * Receives and measures clips one after another, from a queue in the database. What was under way when the server
 * stopped is started anew when it comes back: the clip's own state says so.
 */
export class MeasureJobs {
  private readonly boss: PgBoss;
  private readonly pool = new Piscina({
    filename: new URL('./measure-worker.ts', import.meta.url).href,
    maxThreads: 1,
    execArgv: ['--import', 'tsx'],
  });
  private readonly stopping = new AbortController();

  constructor(
    databaseUrl: string,
    private readonly store: ClipStore,
    private readonly log: Logger,
  ) {
    this.boss = new PgBoss({ connectionString: databaseUrl, max: 4 });
    this.boss.on('error', (error) => log.error({ err: error }, 'queue'));
  }

  async start(): Promise<void> {
    await this.boss.start();
    // The clips say what is left to do; jobs of a server that was killed would only come back when they expire.
    await this.boss.deleteQueue(QUEUE).catch(() => undefined);
    await this.boss.createQueue(QUEUE, { name: QUEUE, retryLimit: 1, expireInHours: 12 });
    await this.store.markBrokenUploads();
    for (const id of await this.store.unfinished()) await this.enqueue(id);
    await this.boss.work<{ clipId: string; fresh?: boolean }>(
      QUEUE,
      { pollingIntervalSeconds: POLL_SECONDS, batchSize: 1 },
      async ([job]) => this.run(job.data.clipId, job.data.fresh ?? false),
    );
  }

  /**
   * Puts a clip in the queue; its state tells the pages.
   * @param fresh whether it is measured from nothing, whatever is known of it
   */
  async enqueue(clipId: string, fresh = false): Promise<void> {
    await this.store.change(clipId, { state: 'queued', progress: 0, error: null });
    await this.boss.send(QUEUE, { clipId, fresh });
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
    await this.boss.stop({ graceful: false, wait: true, timeout: 2000 });
    await this.pool.destroy();
  }

  private async run(clipId: string, fresh: boolean): Promise<void> {
    const row = await this.store.row(clipId).catch(() => null);
    if (!row || row.path === null || row.state === 'measured') return;
    try {
      await this.store.change(clipId, { state: 'measuring', progress: 0, error: null });
      if (fresh || !row.facts || !existsSync(join(this.store.folderOf(clipId), 'proxy.mp4')))
        await this.receive(clipId, row.path, row.name);
      const { measurement, machine } = await this.readings({ ...row, path: row.path }, fresh);
      const spec = await this.store.specOf(row);
      await this.store.change(clipId, {
        state: 'measured',
        progress: 1,
        measurement,
        machine,
        measuredUnder: row.overrides,
        ...judgedUnder(measurement, spec),
      });
      await this.catchUp(clipId);
    } catch (error) {
      // A measurement that the server's end cut short is not a failure: it is done again at the next start.
      if (this.stopping.signal.aborted) return;
      if (!(error instanceof ClipUnreadable)) this.log.error({ err: error, clipId }, 'measurement failed');
      await this.store.change(clipId, {
        state: 'failed',
        progress: 0,
        error: withName(explain(error).message, row.path, row.name),
      });
    }
  }

  /** Facts, poster and proxy, so that the clip can be looked at while it is measured. */
  private async receive(clipId: string, path: string, name: string): Promise<void> {
    const clip = await probeClip(await openSource(path));
    await this.store.change(clipId, { facts: { ...clip.facts, file: name } });
    const folder = this.store.folderOf(clipId);
    await mkdir(folder, { recursive: true });
    await writePoster(clip, join(folder, 'poster.jpg'));
    await writeProxy(clip, join(folder, 'proxy.mp4'), this.stopping.signal);
    await this.store.tellAgain(clipId);
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
    const known: [Measurement, Overrides][] = [
      [machine, {}],
      ...(before.measurement
        ? [[before.measurement, before.measuredUnder ?? {}] as [Measurement, Overrides]]
        : []),
    ];
    const [[from, only]] = known
      .map(([m, under]) => [m, concernedBy(under, overrides)] as const)
      .sort((a, b) => a[1].length - b[1].length);
    if (only.length === DEFECTS.length) return { measurement: await look({ overrides }), machine };
    return { measurement: withReadingsOf(from, await look({ overrides, only }), only), machine };
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
      const result = (await this.pool.run(
        { ...task, port: port2 },
        { transferList: [port2], signal: this.stopping.signal },
      )) as Measurement | { unreadable: string };
      if ('unreadable' in result) throw new Unreadable(result.unreadable, task.path);
      return result;
    } finally {
      port1.close();
    }
  }
}

const isPlain = (overrides: Overrides | null): boolean => Object.keys(overrides ?? {}).length === 0;

/** Whether it was overruled since it was measured. */
const lagsBehind = ({ overrides, measuredUnder }: ClipRow): boolean =>
  !isDeepStrictEqual(overrides, measuredUnder ?? {});

/** A clip that a worker could not read; the sentence is complete already. */
class Unreadable extends ClipUnreadable {
  constructor(sentence: string, path: string) {
    super(path, '', '');
    this.message = sentence;
  }
}

/** Uploads are stored under a neutral name; a person knows the file by its own. */
const withName = (message: string, path: string, name: string): string => {
  const stored = path.slice(path.lastIndexOf('/') + 1);
  return message.startsWith(`${stored}:`) ? `${name}${message.slice(stored.length)}` : message;
};
