import { rm, stat } from 'node:fs/promises';
import { join } from 'node:path';
import { and, asc, eq, inArray, isNotNull, isNull, sql, type SQL } from 'drizzle-orm';
import {
  MEASURE_AGAIN,
  printable,
  type Batch,
  type Clip,
  type ClipDetail,
  type ClipReadings,
  type CreateBatch,
  type DeliverySpec,
  type TruthRow,
  type Version,
} from '@bevrin/contract';
import { readingsUnder } from '@bevrin/core';
import type { Database, Transaction } from '../database/connect.js';
import { batches, clips, versions, type ClipColumns, type VersionRow } from '../database/schema.js';
import { announce } from '../events/announcements.js';
import { Problem } from '../http/problem.js';
import type { SpecStore } from '../specs/specs.js';
import {
  judgedUnder,
  listed,
  numberAt,
  toClip,
  toVersion,
  type ClipRow,
  type MeasuredRow,
} from './clip-rows.js';
import type { MeasurementStore } from './measurement-store.js';
import type { PictureStore } from './picture-store.js';
import { newestReturns, standingDecisions } from './standing.js';
import { addVersion, type NewClip, type NewMeasurement } from './versions.js';

/** Batches and clips as the pages know them. Every change to a clip is announced to all processes of the house. */
export class ClipStore {
  constructor(
    private readonly database: Database,
    readonly specs: SpecStore,
    readonly measurements: MeasurementStore,
    private readonly pictures: PictureStore,
    private readonly storeDir: string,
  ) {}

  /** Where the file of an uploaded clip is kept. */
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
    await this.specs.find(wanted.specId);
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
    await this.specs.find(specId);
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
  async specOf(row: Pick<ClipColumns, 'specId' | 'batchId'>): Promise<DeliverySpec> {
    return this.specs.find(row.specId ?? (await this.batch(row.batchId)).specId);
  }

  /** Gives a clip a spec of its own, or with `null` that of its batch. */
  async changeClipSpec(id: string, specId: string | null): Promise<void> {
    if (specId !== null) await this.specs.find(specId);
    await this.database.update(clips).set({ specId }).where(eq(clips.id, id));
    await this.judge(eq(clips.id, id));
  }

  /** Is told which clips have been judged anew: their plans may be others than before. */
  onJudged: (clipIds: readonly string[]) => Promise<void> = () => Promise.resolve();

  /** Judges measured clips from their stored readings. Nothing is measured again. */
  private async judge(which: SQL): Promise<void> {
    const inForce = new Map((await this.specs.all()).map((s) => [s.id, s]));
    const judged = await this.database.transaction(async (tx) => {
      const rows = await tx
        .select({
          id: clips.id,
          measurementId: clips.measurementId,
          specId: sql<string>`coalesce(${clips.specId}, ${batches.specId})`,
        })
        .from(clips)
        .innerJoin(batches, eq(clips.batchId, batches.id))
        .where(which);
      const wanted = rows.map((r) => r.measurementId);
      const found = await this.measurements.find(wanted, tx);
      for (const { id, measurementId, specId } of rows) {
        const measurement = found.get(measurementId ?? '')?.measurement;
        const spec = inForce.get(specId);
        if (measurement && spec)
          await tx.update(clips).set(judgedUnder(measurement, spec)).where(eq(clips.id, id));
      }
      return rows.map((r) => r.id);
    });
    await this.onJudged(judged);
  }

  /** What the limits of a spec are set against, for every measured clip of a batch. */
  async readingsIn(batchId: string, spec: DeliverySpec): Promise<ClipReadings[]> {
    return (await this.measuredIn(batchId)).flatMap(({ id, name, measurement }) =>
      measurement ? [{ clipId: id, clip: name, ...readingsUnder(measurement, spec) }] : [],
    );
  }

  /** What was put into the drawn clips of a batch, and what was read; by name, for they come in as they are done. */
  async truthOf(batchId: string): Promise<TruthRow[]> {
    const measured = await this.measuredIn(batchId);
    return measured
      .sort((a, b) => a.name.localeCompare(b.name))
      .flatMap(({ id, name, truth, measurement }) =>
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

  async clipsOf(batchId: string): Promise<Clip[]> {
    return this.list(eq(clips.batchId, batchId));
  }

  async clipsNamed(ids: readonly string[]): Promise<Clip[]> {
    return ids.length === 0 ? [] : this.list(inArray(clips.id, [...ids]));
  }

  private async list(which: SQL): Promise<Clip[]> {
    const rows = await this.database
      .select({ clip: listed, version: versions })
      .from(clips)
      .innerJoin(versions, eq(clips.versionId, versions.id))
      .where(which)
      .orderBy(asc(clips.position));
    const made = await standingDecisions(this.database, which);
    const returned = await newestReturns(this.database, which);
    return rows.map(({ clip, version }) =>
      toClip({ ...clip, version }, made(clip.id), returned.get(clip.id) ?? null),
    );
  }

  /** Clips with the version that is looked at, in the order in which they came. */
  async rows(which: SQL, database: Database | Transaction = this.database): Promise<ClipRow[]> {
    const found = await database
      .select({ clip: clips, version: versions })
      .from(clips)
      .innerJoin(versions, eq(clips.versionId, versions.id))
      .where(which)
      .orderBy(asc(clips.position));
    return found.map(({ clip, version }) => ({ ...clip, version }));
  }

  async row(id: string): Promise<ClipRow> {
    const [row] = await this.rows(eq(clips.id, id));
    if (!row) throw NO_SUCH_CLIP();
    return row;
  }

  /** A clip with what was measured of it. */
  async measuredRow(id: string): Promise<MeasuredRow> {
    const [row] = await this.withMeasurements([await this.row(id)]);
    return row;
  }

  /** The clips of a batch with what was measured of them. */
  async measuredIn(batchId: string): Promise<MeasuredRow[]> {
    return this.withMeasurements(await this.rows(eq(clips.batchId, batchId)));
  }

  async withMeasurements(
    rows: readonly ClipRow[],
    database: Database | Transaction = this.database,
  ): Promise<MeasuredRow[]> {
    const wanted = rows.flatMap((r) => [r.measurementId, r.machineId]);
    const found = await this.measurements.find(wanted, database);
    return rows.map((row) => {
      const own = found.get(row.measurementId ?? '');
      return {
        ...row,
        measurement: own?.measurement ?? null,
        machine: found.get(row.machineId ?? '')?.measurement ?? null,
        measured: own?.info ?? null,
      };
    });
  }

  async clip(id: string): Promise<ClipDetail> {
    const row = await this.measuredRow(id);
    const { measurement, machine, measured, judgement, overrides, truth, measurementId } = row;
    const made = await standingDecisions(this.database, eq(clips.id, id));
    const unreadable =
      measurementId !== null && !measurement
        ? { state: 'failed' as const, error: `${row.name}: ${MEASURE_AGAIN}` }
        : {};
    return {
      ...toClip(row, made(row.id), (await newestReturns(this.database, eq(clips.id, id))).get(id) ?? null),
      measurement,
      machine,
      judgement: measurement && judgement,
      overrides,
      truth,
      versions: await this.versionsOf(id),
      measured,
      versionOf: null,
      ...unreadable,
    };
  }

  /** Every file of a clip, the original first. */
  async versionsOf(clipId: string): Promise<Version[]> {
    const rows = await this.database
      .select()
      .from(versions)
      .where(eq(versions.clipId, clipId))
      .orderBy(asc(versions.number));
    return rows.map(toVersion);
  }

  async rowOfUpload(uploadId: string): Promise<ClipRow | undefined> {
    return (await this.rows(eq(versions.uploadId, uploadId)))[0];
  }

  /** Bytes of the file that an upload has become. */
  async sizeOfUpload(uploadId: string): Promise<number> {
    const path = (await this.rowOfUpload(uploadId))?.version.path;
    return path ? (await stat(path)).size : 0;
  }

  async hasPath(batchId: string, path: string): Promise<boolean> {
    return (await this.rows(and(eq(clips.batchId, batchId), eq(versions.path, path))!)).length > 0;
  }

  /** Clips whose file has not come whole. */
  async incomplete(): Promise<ClipRow[]> {
    return this.rows(and(isNull(versions.path), isNotNull(versions.uploadId))!);
  }

  /** A clip with its original. */
  async add({ batchId, name, state, file, truth }: NewClip): Promise<Clip> {
    const id = await this.database.transaction(async (tx) => {
      const [clip] = await tx
        .insert(clips)
        .values({ batchId, name: printable(name), state, ...(truth && { truth }) })
        .returning({ id: clips.id });
      await addVersion(tx, clip.id, { ...file, number: 1, kind: 'original' });
      return clip.id;
    });
    return this.told(id);
  }

  /**
   * The file at the place of the original is another one than was measured: a new original, looked at from here on.
   * What was measured and decided of the former one stays with it.
   */
  async addOriginal(id: string, from: VersionRow): Promise<VersionRow> {
    const version = await this.database.transaction(async (tx) => {
      const [{ last }] = await tx
        .select({ last: sql<number>`max(${versions.number})::int` })
        .from(versions)
        .where(eq(versions.clipId, id));
      return addVersion(tx, id, { path: from.path, number: last + 1, kind: 'original' });
    });
    await this.announced(id);
    return version;
  }

  /** Writes down what was measured of the version that is looked at, with what follows from it. */
  async addMeasurement(
    tx: Database | Transaction,
    versionId: string,
    { measurement, overrides, machine }: NewMeasurement,
  ): Promise<Pick<ClipColumns, 'measurementId' | 'machineId'>> {
    const measurementId = await this.measurements.add(tx, versionId, measurement, overrides);
    const machineId =
      machine === null || typeof machine === 'string'
        ? machine
        : await this.measurements.add(tx, versionId, machine, {});
    return { measurementId, machineId };
  }

  /**
   * Keeps what a technician wrote on a clip.
   * @param before the note that it was written on; `undefined` overwrites whatever is there
   * @throws {Problem} when somebody else has written meanwhile
   */
  async writeNote(id: string, note: string, before: string | undefined): Promise<void> {
    const written = await this.database
      .update(clips)
      .set({ note })
      .where(and(eq(clips.id, id), before === undefined ? undefined : inArray(clips.note, [before, note])))
      .returning({ id: clips.id });
    if (written.length > 0) return this.announced(id);
    const { name } = await this.row(id);
    throw new Problem(
      409,
      `${name}: its note was changed meanwhile, on another page or by somebody else. Yours was not written over it.`,
    );
  }

  async change(id: string, change: Partial<typeof clips.$inferInsert>): Promise<void> {
    await this.database.update(clips).set(change).where(eq(clips.id, id));
    await this.announced(id);
  }

  async changeVersion(
    { id, clipId }: Pick<VersionRow, 'id' | 'clipId'>,
    change: Partial<typeof versions.$inferInsert>,
  ): Promise<void> {
    await this.database.update(versions).set(change).where(eq(versions.id, id));
    await this.announced(clipId);
  }

  /** Begins the upload of a clip's file anew. */
  async restartUpload({ id, version }: ClipRow, uploadId: string): Promise<void> {
    await this.database.transaction(async (tx) => {
      await tx.update(versions).set({ uploadId }).where(eq(versions.id, version.id));
      await tx.update(clips).set({ state: 'receiving', progress: 0, error: null }).where(eq(clips.id, id));
      await announce(tx, { kind: 'clip', clipId: id });
    });
  }

  /** @returns the clip that was removed, if it was there */
  async remove(id: string): Promise<ClipRow | null> {
    const [row] = await this.rows(eq(clips.id, id));
    if (!row) return null;
    const own = await this.database.select().from(versions).where(eq(versions.clipId, id));
    await this.database.transaction(async (tx) => {
      await tx.delete(clips).where(eq(clips.id, id));
      await announce(tx, { kind: 'clipRemoved', batchId: row.batchId, clipId: id });
    });
    await rm(this.folderOf(id), { recursive: true, force: true });
    await this.removePictures(own.flatMap((v) => [v.poster, v.proxy]));
    return row;
  }

  /** Removes pictures that no version shows any more. */
  private async removePictures(names: readonly (string | null)[]): Promise<void> {
    for (const name of names.filter((n) => n !== null)) {
      const shown = await this.database
        .select({ id: versions.id })
        .from(versions)
        .where(sql`${name} IN (${versions.poster}, ${versions.proxy})`)
        .limit(1);
      if (shown.length === 0) await this.pictures.remove(name);
    }
  }

  /** Announces that a clip has changed. */
  async announced(id: string): Promise<void> {
    await announce(this.database, { kind: 'clip', clipId: id });
  }

  /** Announces that a clip has changed. @returns how it is now */
  async told(id: string): Promise<Clip> {
    await this.announced(id);
    const [clip] = await this.clipsNamed([id]);
    if (!clip) throw NO_SUCH_CLIP();
    return clip;
  }
}

export const NO_SUCH_CLIP = (): Problem =>
  new Problem(404, 'There is no such clip. It may have been removed; go back to its batch.');
