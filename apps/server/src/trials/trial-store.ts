import { rm } from 'node:fs/promises';
import { basename, join } from 'node:path';
import { and, asc, eq, gt, inArray, sql, type SQL } from 'drizzle-orm';
import { sweptSettings, type AskTrial, type ClipTrial, type Trial, type TrialRun } from '@bevrin/contract';
import { FIRST_PICTURE } from '@bevrin/media';
import { checkedSettings, runnerOf, RUNNERS, type KeptTrial } from '@bevrin/core';
import type { ClipStore } from '../clips/clips.js';
import type { DiskWatch } from '../clips/disk-watch.js';
import type { Database } from '../database/connect.js';
import { groupedBy } from '../database/grouped.js';
import { clips, trials, versions, type TrialRow } from '../database/schema.js';
import { announce } from '../events/announcements.js';
import { Problem } from '../http/problem.js';
import { afterNow } from '../jobs/leases.js';

/** Stands where the choice will be, as long as settings are still being tried. */
const UNDER_WAY = 'It is under way.';

/** How far the house goes on its own. */
export interface TrialLimits {
  /** Seconds of work for the steps of one clip's plan; 0 tries none. */
  readonly trialSeconds: number;
  /** Bytes of frames that are kept to be looked at. */
  readonly trialBytes: number;
}

/** Trials of the clips: what was asked for, who works at it, and what was found. */
export class TrialStore {
  private heldBack = false;

  constructor(
    private readonly database: Database,
    private readonly clips: ClipStore,
    private readonly disk: DiskWatch,
    readonly limits: TrialLimits,
  ) {}

  /** Where the frames of a trial's runs are. */
  folderOf({ clipId, id }: Pick<TrialRow, 'clipId' | 'id'>): string {
    return join(this.clips.folderOf(clipId), 'trials', id);
  }

  /** Trials of the version that is looked at, the oldest first. */
  async ofClip(clipId: string): Promise<ClipTrial[]> {
    const { versionId } = await this.clips.row(clipId);
    const rows = await this.rows(and(eq(trials.clipId, clipId), eq(trials.versionId, versionId!))!);
    return rows.map(toClipTrial);
  }

  async row(id: string): Promise<TrialRow> {
    const [row] = await this.rows(eq(trials.id, id));
    if (!row) throw new Problem(404, 'There is no such trial. Its clip may have been removed.');
    return row;
  }

  private rows(which: SQL): Promise<TrialRow[]> {
    return this.database.select().from(trials).where(which).orderBy(asc(trials.createdAt));
  }

  /** Finished trials of the versions that are looked at, by clip, the oldest first. */
  async kept(clipIds: readonly string[]): Promise<(clipId: string) => KeptTrial[]> {
    if (clipIds.length === 0) return () => [];
    const rows = await this.database
      .select({ trial: trials })
      .from(trials)
      .innerJoin(clips, and(eq(trials.clipId, clips.id), eq(trials.versionId, clips.versionId)))
      .where(and(inArray(trials.clipId, [...clipIds]), eq(trials.state, 'done')))
      .orderBy(asc(trials.createdAt));
    const of = groupedBy(
      rows.map((r) => r.trial),
      (t) => t.clipId,
    );
    return (clipId) =>
      of(clipId).flatMap(({ id, treatment, who, trial }) =>
        trial && treatment !== 'plan'
          ? [{ id, treatment, by: who === '' ? ('machine' as const) : ('person' as const), trial }]
          : [],
      );
  }

  /**
   * Takes up what a technician wants tried.
   * @throws {Problem} when the clip is not measured, or has no such frames; {@link TreatmentUnusable} {@link SettingUnusable}
   */
  async ask(
    clipId: string,
    who: string,
    { treatment, settings, sweep, range }: Omit<AskTrial, 'who'>,
  ): Promise<ClipTrial> {
    const { name, versionId, measurement } = await this.clips.measuredRow(clipId);
    if (!measurement)
      throw new Problem(409, `${name}: it has not been measured yet. Try its repairs when it is.`);
    if (who === '') throw new Problem(400, 'Say who asks: every trial is kept with a name.');
    if (treatment !== 'plan') {
      const runner = runnerOf(treatment);
      for (const each of sweep ? sweptSettings(settings ?? {}, sweep) : [settings ?? {}])
        checkedSettings(runner.settings, each);
    } else if (settings ?? sweep)
      throw new Problem(
        422,
        `${name}: a plan is tried as it stands. Leave settings and values to compare out.`,
      );
    const last = measurement.clip.frames - 1;
    if (range && (range.endFrame < range.startFrame || range.endFrame > last))
      throw new Problem(
        422,
        `${name}: frames ${range.startFrame} to ${range.endFrame} are not all there: it has frames 0 to ${last}. Choose others.`,
      );
    const [row] = await this.database
      .insert(trials)
      .values({ clipId, versionId: versionId!, treatment, who, order: { settings, sweep, range } })
      .returning();
    await this.told(row);
    await announce(this.database, { kind: 'work' });
    return toClipTrial(row);
  }

  /** Lets each step of a clip's plan be tried that can be and was not yet. */
  async propose(clipId: string): Promise<void> {
    if (this.limits.trialSeconds === 0) return;
    const added = await this.database.transaction(async (tx) => {
      const [row] = await tx.select().from(clips).where(eq(clips.id, clipId)).for('update');
      if (!row?.versionId || row.state !== 'measured') return [];
      const known = await tx
        .select({ treatment: trials.treatment })
        .from(trials)
        .where(and(eq(trials.versionId, row.versionId), eq(trials.who, '')));
      const steps = row.judgement?.plan.steps ?? [];
      const wanted = [...steps]
        .sort((a, b) => a.priority - b.priority)
        .filter((s) => RUNNERS[s.treatment] && !known.some((k) => k.treatment === s.treatment));
      if (wanted.length === 0) return [];
      return tx
        .insert(trials)
        .values(wanted.map(({ treatment }) => ({ clipId, versionId: row.versionId!, treatment })))
        .returning();
    });
    if (added.length === 0) return;
    await this.told(added[0]);
    await announce(this.database, { kind: 'work' });
  }

  /** Ends a trial that waits or runs; what was found until then stays. */
  async cancel(id: string): Promise<ClipTrial> {
    const [row] = await this.database
      .update(trials)
      .set({ state: 'cancelled', leasedBy: null, leasedUntil: null })
      .where(and(eq(trials.id, id), inArray(trials.state, ['waiting', 'running'])))
      .returning();
    if (row) await this.told(row);
    return toClipTrial(row ?? (await this.row(id)));
  }

  /**
   * Lets this process begin no trial that nobody asked for, for as long as something else needs the machine.
   * @returns ends that
   */
  holdBack(): () => void {
    this.heldBack = true;
    return () => {
      this.heldBack = false;
    };
  }

  /**
   * Takes the trial that is to be made next: what a person asked for first, and what nobody asked for only while no clip
   * waits to be measured.
   */
  async claimNext(by: string, leaseSec: number): Promise<TrialRow | null> {
    const [claimed] = await this.database
      .update(trials)
      .set({
        state: 'running',
        progress: 0,
        error: null,
        leasedBy: by,
        leasedUntil: afterNow(leaseSec),
        startedAt: sql`now()`,
        attempts: sql`${trials.attempts} + 1`,
      })
      .where(
        eq(
          trials.id,
          sql`(SELECT ${trials.id} FROM ${trials} WHERE ${CLAIMABLE} AND (${trials.who} <> '' OR NOT ${this.heldBack}::boolean) ORDER BY ${trials.who} = '', ${trials.createdAt} LIMIT 1 FOR UPDATE SKIP LOCKED)`,
        ),
      )
      .returning();
    if (claimed) await this.told(claimed);
    return claimed ?? null;
  }

  /** Says that a trial is still worked at. @returns whether it is still wanted */
  async renew(id: string, by: string, leaseSec: number): Promise<boolean> {
    const held = await this.database
      .update(trials)
      .set({ leasedUntil: afterNow(leaseSec) })
      .where(and(eq(trials.id, id), eq(trials.leasedBy, by)))
      .returning({ id: trials.id });
    return held.length > 0;
  }

  /** Changes a trial as long as it is held. */
  async change(row: Pick<TrialRow, 'id' | 'clipId'>, by: string, change: Partial<TrialRow>): Promise<void> {
    await this.database
      .update(trials)
      .set(change)
      .where(and(eq(trials.id, row.id), eq(trials.leasedBy, by)));
    await this.told(row);
  }

  /** Notes what a trial that was cancelled has left to be looked at. */
  async keepFrames({ id }: TrialRow, frameBytes: number): Promise<void> {
    await this.database.update(trials).set({ frameBytes }).where(eq(trials.id, id));
  }

  /** Adds a run to what a trial has found so far. */
  async addRun(row: TrialRow, by: string, clip: string, range: Trial['range'], run: TrialRun): Promise<void> {
    const { trial } = await this.row(row.id);
    const runs = [...(trial ? made(trial.runs) : []), run];
    const soFar: Trial = {
      schema: 'bevrin.trial/1',
      clip,
      range,
      runs,
      choice: { run: null, because: UNDER_WAY },
    };
    await this.change(row, by, { trial: soFar });
  }

  /** Seconds that the machine has spent on its own on the version of a trial. */
  async spentOn({ versionId }: TrialRow): Promise<number> {
    const [{ spent }] = await this.database
      .select({ spent: sql<number>`coalesce(sum(${trials.seconds}), 0)::float8` })
      .from(trials)
      .where(and(eq(trials.versionId, versionId), eq(trials.who, '')));
    return spent;
  }

  /** Drops the frames of the oldest trials beyond what is kept, and of all while the disk is full. */
  async dropFrames(): Promise<void> {
    const rows = await this.database
      .select()
      .from(trials)
      .where(and(gt(trials.frameBytes, 0), inArray(trials.state, ['done', 'failed', 'cancelled', 'skipped'])))
      .orderBy(asc(trials.createdAt));
    let bytes = rows.reduce((sum, r) => sum + r.frameBytes, 0);
    for (const row of rows) {
      if (bytes <= this.limits.trialBytes && !this.disk.paused) return;
      await this.database.update(trials).set({ frameBytes: 0 }).where(eq(trials.id, row.id));
      await rm(this.folderOf(row), { recursive: true, force: true });
      bytes -= row.frameBytes;
      await this.disk.look();
      await this.told(row);
    }
  }

  private async told({ id, clipId }: Pick<TrialRow, 'id' | 'clipId'>): Promise<void> {
    await announce(this.database, { kind: 'trial', clipId, trialId: id });
  }
}

const CLAIMABLE = sql`
  (${trials.leasedUntil} IS NULL OR ${trials.leasedUntil} < now())
  AND ${trials.state} IN ('waiting', 'running')
  AND EXISTS (SELECT 1 FROM ${versions} WHERE ${versions.id} = ${trials.versionId} AND ${versions.path} IS NOT NULL)
  AND (${trials.who} <> '' OR NOT EXISTS (SELECT 1 FROM ${clips} WHERE ${clips.state} IN ('queued', 'measuring')))`;

/** A share done that is too small to tell from it how long the rest will take. */
const TELLING_SHARE = 0.1;

/** Runs that are through: not the one frame that is shown ahead of them. */
const made = (runs: readonly TrialRun[]): TrialRun[] =>
  runs.filter((run) => run.file === null || basename(run.file) !== FIRST_PICTURE);

export const toClipTrial = (row: TrialRow): ClipTrial => {
  const { id, clipId, treatment, who, state, progress, error, trial, frameBytes, startedAt, createdAt } = row;
  const passed = startedAt ? (Date.now() - startedAt.getTime()) / 1000 : 0;
  const telling = state === 'running' && progress >= TELLING_SHARE;
  return {
    id,
    clipId,
    treatment,
    who,
    state,
    progress,
    secondsLeft: telling ? Math.max(0, Math.round((passed * (1 - progress)) / progress)) : null,
    error,
    frames: frameBytes > 0 || state === 'running',
    createdAt: createdAt.toISOString(),
    // One frame that was shown ahead is no run; of a trial that was ended nothing more comes.
    trial: state === 'running' || !trial || made(trial.runs).length > 0 ? trial : null,
  };
};
