import { existsSync } from 'node:fs';
import { rm, stat } from 'node:fs/promises';
import { join } from 'node:path';
import { and, asc, eq, getTableColumns, inArray, isNotNull, isNull, sql, type SQL } from 'drizzle-orm';
import type {
  Batch,
  Clip,
  ClipDetail,
  CreateBatch,
  Decision,
  DeliverySpec,
  Judgement,
  Measurement,
  ClipReadings,
  Summary,
  TruthRow,
} from '@bevrin/contract';
import { figureAt } from '@bevrin/contract';
import { scoreMeasurement, readingsUnder, standingOf, summaryOf } from '@bevrin/core';
import { printable } from '@bevrin/media';
import type { Database } from '../database/connect.js';
import { batches, clips, decisions, type ClipRow, type DecisionRow } from '../database/schema.js';
import type { Live } from '../http/live.js';
import { Problem } from '../http/problem.js';
import type { SpecStore } from '../specs/specs.js';

const {
  measurement: _1,
  machine: _2,
  judgement: _3,
  overrides: _4,
  measuredUnder: _5,
  ...listed
} = getTableColumns(clips);
type ListedRow = Omit<ClipRow, 'measurement' | 'machine' | 'judgement' | 'overrides' | 'measuredUnder'>;

/** Batches and clips as the pages know them. Every change to a clip is told to the open pages. */
export class ClipStore {
  constructor(
    private readonly database: Database,
    private readonly live: Live,
    readonly specs: SpecStore,
    private readonly storeDir: string,
  ) {}

  folderOf(clipId: string): string {
    return join(this.storeDir, 'clips', clipId);
  }

  async batches(): Promise<Batch[]> {
    const rows = await this.database
      .select({ batch: batches, clipCount: sql<number>`count(${clips.id})::int` })
      .from(batches)
      .leftJoin(clips, eq(clips.batchId, batches.id))
      .groupBy(batches.id)
      .orderBy(asc(batches.createdAt));
    return rows.map(({ batch: { createdAt: _, ...batch }, clipCount }) => ({ ...batch, clipCount }));
  }

  async createBatch(wanted: CreateBatch): Promise<Batch> {
    this.specs.find(wanted.specId);
    const [{ createdAt: _, ...batch }] = await this.database.insert(batches).values(wanted).returning();
    return { ...batch, clipCount: 0 };
  }

  async batch(id: string): Promise<Batch> {
    const found = (await this.batches()).find((b) => b.id === id);
    if (!found)
      throw new Problem(404, 'There is no such batch. It may have been removed; go back to the list.');
    return found;
  }

  /** Puts a batch under another spec; clips with a spec of their own keep it. */
  async changeSpec(batchId: string, specId: string): Promise<void> {
    this.specs.find(specId);
    await this.batch(batchId);
    await this.database.update(batches).set({ specId }).where(eq(batches.id, batchId));
    await this.judge(eq(clips.batchId, batchId));
  }

  /** Judges every clip under a spec anew, because the spec has changed. */
  async judgeAgain(specId: string): Promise<void> {
    await this.judge(eq(sql`coalesce(${clips.specId}, ${batches.specId})`, specId));
  }

  /** Judges clips whose judgement was stored by an older Bevrin, without what lists show. */
  async judgeUnlisted(): Promise<void> {
    await this.judge(and(isNull(clips.summary), isNotNull(clips.judgement))!);
  }

  /** The spec that holds for a clip: its own, or its batch's. */
  async specOf(row: Pick<ClipRow, 'specId' | 'batchId'>): Promise<DeliverySpec> {
    return this.specs.find(row.specId ?? (await this.batch(row.batchId)).specId);
  }

  /** Gives a clip a spec of its own, or with `null` that of its batch. */
  async changeClipSpec(id: string, specId: string | null): Promise<void> {
    if (specId !== null) this.specs.find(specId);
    await this.database.update(clips).set({ specId }).where(eq(clips.id, id));
    await this.judge(eq(clips.id, id));
  }

  /** Judges measured clips from their stored readings. Nothing is measured again. */
  private async judge(which: SQL): Promise<void> {
    await this.database.transaction(async (tx) => {
      const rows = await tx
        .select({
          id: clips.id,
          measurement: clips.measurement,
          specId: sql<string>`coalesce(${clips.specId}, ${batches.specId})`,
        })
        .from(clips)
        .innerJoin(batches, eq(clips.batchId, batches.id))
        .where(which);
      for (const { id, measurement, specId } of rows)
        if (measurement)
          await tx
            .update(clips)
            .set(judgedUnder(measurement, this.specs.find(specId)))
            .where(eq(clips.id, id));
    });
  }

  /** What the limits of a spec are set against, for every measured clip of a batch. */
  async readingsIn(batchId: string, spec: DeliverySpec): Promise<ClipReadings[]> {
    await this.batch(batchId);
    const rows = await this.database
      .select({ id: clips.id, name: clips.name, measurement: clips.measurement })
      .from(clips)
      .where(eq(clips.batchId, batchId))
      .orderBy(asc(clips.position));
    return rows.flatMap(({ id, name, measurement }) =>
      measurement ? [{ clipId: id, clip: name, ...readingsUnder(measurement, spec) }] : [],
    );
  }

  async clipsOf(batchId: string): Promise<Clip[]> {
    const rows = (await this.database
      .select(listed)
      .from(clips)
      .where(eq(clips.batchId, batchId))
      .orderBy(asc(clips.position))) satisfies ListedRow[];
    const made = await this.standingDecisions(eq(clips.batchId, batchId));
    return rows.map((row) => this.toClip(row, made.get(row.id)));
  }

  /** The decisions on which the standing of clips rests, by clip. */
  private async standingDecisions(which: SQL): Promise<Map<string, DecisionRow[]>> {
    const rows = await this.database
      .select({ decision: decisions })
      .from(decisions)
      .innerJoin(clips, eq(decisions.clipId, clips.id))
      .where(and(which, inArray(sql`${decisions.decision}->>'kind'`, STANDING)))
      .orderBy(asc(decisions.id));
    const byClip = new Map<string, DecisionRow[]>();
    for (const { decision } of rows)
      byClip.set(decision.clipId, [...(byClip.get(decision.clipId) ?? []), decision]);
    return byClip;
  }

  /** What was put into the drawn clips of a batch, and what was read. */
  async truthOf(batchId: string): Promise<TruthRow[]> {
    const rows = await this.database
      .select({ id: clips.id, name: clips.name, truth: clips.truth, measurement: clips.measurement })
      .from(clips)
      .where(eq(clips.batchId, batchId))
      .orderBy(asc(clips.position));
    return rows.flatMap(({ id, name, truth, measurement }) =>
      truth.map((t) => ({
        clipId: id,
        clip: name,
        what: t.what,
        unit: t.unit,
        putIn: t.value,
        read: measurement && numberAt(measurement, t.reading),
      })),
    );
  }

  async row(id: string): Promise<ClipRow> {
    const [row] = await this.database.select().from(clips).where(eq(clips.id, id));
    if (!row) throw NO_SUCH_CLIP();
    return row;
  }

  /** Where the file of a clip is, without all that is known of it. */
  async where(id: string): Promise<Pick<ClipRow, 'path' | 'name'>> {
    const [row] = await this.database
      .select({ path: clips.path, name: clips.name })
      .from(clips)
      .where(eq(clips.id, id));
    if (!row) throw NO_SUCH_CLIP();
    return row;
  }

  async clip(id: string): Promise<ClipDetail> {
    const row = await this.row(id);
    const { measurement, machine, judgement, overrides, truth } = row;
    const made = await this.standingDecisions(eq(clips.id, id));
    return { ...this.toClip(row, made.get(id)), measurement, machine, judgement, overrides, truth };
  }

  async rowOfUpload(uploadId: string): Promise<ClipRow | undefined> {
    const [row] = await this.database.select().from(clips).where(eq(clips.uploadId, uploadId));
    return row;
  }

  /** Bytes of the file that an upload has become. */
  async sizeOfUpload(uploadId: string): Promise<number> {
    const row = await this.rowOfUpload(uploadId);
    return row?.path ? (await stat(row.path)).size : 0;
  }

  async hasPath(batchId: string, path: string): Promise<boolean> {
    const rows = await this.database
      .select({ id: clips.id })
      .from(clips)
      .where(and(eq(clips.batchId, batchId), eq(clips.path, path)));
    return rows.length > 0;
  }

  /** Clips whose file has not come whole. */
  async incomplete(): Promise<ClipRow[]> {
    return this.database
      .select()
      .from(clips)
      .where(and(isNull(clips.path), isNotNull(clips.uploadId)));
  }

  async add(clip: typeof clips.$inferInsert): Promise<Clip> {
    const [row] = await this.database
      .insert(clips)
      .values({ ...clip, name: printable(clip.name) })
      .returning();
    return this.told(row);
  }

  /**
   * Keeps what a technician wrote on a clip.
   * @param before the note that it was written on; `undefined` overwrites whatever is there
   * @throws {Problem} when somebody else has written meanwhile
   */
  async writeNote(id: string, note: string, before: string | undefined): Promise<Clip> {
    const unchanged = before === undefined ? undefined : inArray(clips.note, [before, note]);
    const [row] = await this.database
      .update(clips)
      .set({ note })
      .where(and(eq(clips.id, id), unchanged))
      .returning();
    if (row) return this.told(row);
    const { name } = await this.row(id);
    throw new Problem(
      409,
      `${name}: its note was changed meanwhile, on another page or by somebody else. Yours was not written over it.`,
    );
  }

  async change(id: string, change: Partial<typeof clips.$inferInsert>): Promise<Clip | null> {
    const [row] = await this.database.update(clips).set(change).where(eq(clips.id, id)).returning();
    return row ? this.told(row) : null;
  }

  /** Tells the pages about a clip whose pictures have changed. */
  async tellAgain(id: string): Promise<Clip> {
    return this.told(await this.row(id));
  }

  /** @returns the clip that was removed, if it was there */
  async remove(id: string): Promise<ClipRow | null> {
    const [row] = await this.database.delete(clips).where(eq(clips.id, id)).returning();
    if (!row) return null;
    this.live.tell({ kind: 'clipRemoved', batchId: row.batchId, clipId: id });
    await rm(this.folderOf(id), { recursive: true, force: true });
    return row;
  }

  /** Tells the pages how a clip is now. */
  async told(row: ListedRow): Promise<Clip> {
    const made = await this.standingDecisions(eq(clips.id, row.id));
    const clip = this.toClip(row, made.get(row.id));
    this.live.tell({ kind: 'clip', clip });
    return clip;
  }

  private toClip(row: ListedRow, made: readonly DecisionRow[] = []): Clip {
    const { id, batchId, name, state, progress, error, facts, note, specId, summary, truth } = row;
    return {
      id,
      batchId,
      name,
      state,
      progress,
      error,
      facts,
      note,
      specId,
      hasPoster: existsSync(join(this.folderOf(id), 'poster.jpg')),
      hasPictures: existsSync(join(this.folderOf(id), 'proxy.mp4')),
      summary,
      standing: summary && standingOf(summary.findings, made),
      drawn: truth.length > 0,
    };
  }
}

export const NO_SUCH_CLIP = (): Problem =>
  new Problem(404, 'There is no such clip. It may have been removed; go back to its batch.');

/** Kinds of decisions that change how a clip stands. */
const STANDING: Decision['kind'][] = ['waive', 'notDefect', 'assign', 'approve', 'reopen'];

/** A judgement with what lists show of it, as they are stored. */
export const judgedUnder = (
  measurement: Measurement,
  spec: DeliverySpec,
): { judgement: Judgement; summary: Summary } => {
  const judgement = scoreMeasurement(measurement, spec);
  return { judgement, summary: summaryOf(measurement, judgement) };
};

/** A number of a measurement by its path, such as `noise.lumaPct`. */
const numberAt = ({ readings }: Measurement, path: string): number | null => {
  const value = figureAt(readings, path);
  return typeof value === 'number' ? value : null;
};
