import { basename, dirname } from 'node:path';
import { and, asc, desc, eq, isNotNull, sql } from 'drizzle-orm';
import { alias } from 'drizzle-orm/pg-core';
import {
  printable,
  Recheck,
  verdictWithout,
  type ClipRecheck,
  type Measurement,
  type Overrides,
  type RecheckSigned,
  type ReturnFile,
  type WaiveReason,
} from '@bevrin/contract';
import type { ClipStore } from '../clips/clips.js';
import type { Database } from '../database/connect.js';
import {
  clips,
  decisions,
  rechecks,
  versions,
  type DecisionRow,
  type RecheckRow,
  type VersionRow,
} from '../database/schema.js';
import { announce } from '../events/announcements.js';
import { Problem } from '../http/problem.js';
import { afterNow } from '../jobs/leases.js';
import type { ReturnStore } from './return-store.js';

/** A recheck with the version that it is about. */
export interface RecheckOf {
  readonly recheck: RecheckRow;
  readonly version: VersionRow;
  /** The number of the version that it was made from, */
  readonly from: number | null;
  /** and the approval of the plan that it was made by. */
  readonly approval: Pick<DecisionRow, 'id' | 'who' | 'at' | 'frozen'> | null;
}

/** What a file was made from and by, where that is said. */
export type MadeOf = Pick<ReturnFile, 'madeFrom' | 'plan'>;

/** Files that come back repaired, and what was found of them. The original is never touched. */
export class RecheckStore {
  constructor(
    private readonly database: Database,
    private readonly clips: ClipStore,
    private readonly returns: ReturnStore,
  ) {}

  /** What came back for a clip, the oldest first. */
  async ofClip(clipId: string): Promise<ClipRecheck[]> {
    await this.clips.row(clipId);
    const rows = await this.rows(eq(rechecks.clipId, clipId));
    return rows.map(toClipRecheck);
  }

  async row(id: string): Promise<RecheckOf> {
    const [row] = await this.rows(eq(rechecks.id, id));
    if (!row) throw NO_SUCH_RETURN();
    return row;
  }

  /** A recheck, and where the files of both sides are. */
  async filesOf(id: string): Promise<{ recheck: RecheckRow; original: string; repaired: string }> {
    const { recheck, version } = await this.row(id);
    const own = await this.database.select().from(versions).where(eq(versions.clipId, version.clipId));
    const from = originalOf(version, own);
    if (!from?.path || !version.path) throw new Problem(409, 'One of the files has not come whole.');
    return { recheck, original: from.path, repaired: version.path };
  }

  private rows(which: ReturnType<typeof eq>): Promise<RecheckOf[]> {
    const { id, who, at, frozen } = decisions;
    return this.database
      .select({
        recheck: rechecks,
        version: versions,
        from: before.number,
        approval: { id, who, at, frozen },
      })
      .from(rechecks)
      .innerJoin(versions, eq(rechecks.versionId, versions.id))
      .leftJoin(before, eq(versions.madeFrom, before.id))
      .leftJoin(decisions, eq(versions.madeBy, decisions.id))
      .where(which)
      .orderBy(asc(rechecks.createdAt));
  }

  /**
   * Takes up a repaired file: it becomes a version of its clip, made from the one that is looked at by its newest approved
   * plan, unless it is told otherwise, and waits to be rechecked. One row comes with the other: a crash leaves both or none.
   * @throws {Problem} when the clip is not measured yet, the file came back before, or what it was made of is not this clip's
   */
  async add(clipId: string, who: string, path: string, made: MadeOf = {}): Promise<ClipRecheck> {
    const clip = await this.clips.measuredRow(clipId);
    if (who === '') throw new Problem(400, 'Say who returns it: every version is kept with a name.');
    if (!clip.measurement)
      throw new Problem(409, `${clip.name}: it has not been measured yet. Return its repair when it is.`);
    if (clip.version.path === path)
      throw new Problem(
        409,
        `${basename(path)}: this is the original of ${clip.name}. Return the repaired file.`,
      );
    const id = await this.database.transaction(async (tx) => {
      await tx.select({ id: clips.id }).from(clips).where(eq(clips.id, clipId)).for('update');
      const own = await tx.select().from(versions).where(eq(versions.clipId, clipId));
      if (own.some((v) => v.path === path))
        throw new Problem(409, `${printable(basename(path))}: it came back for ${clip.name} before.`);
      if (made.madeFrom !== undefined && !own.some((v) => v.id === made.madeFrom))
        throw new Problem(404, `${clip.name} has no such version. Load the page again.`);
      const [approved] = await tx
        .select({ id: decisions.id })
        .from(decisions)
        .where(
          and(
            eq(decisions.clipId, clipId),
            isNotNull(decisions.frozen),
            // A plan that was opened again was given out all the same.
            made.plan === undefined ? eq(decisions.undone, false) : eq(decisions.id, made.plan),
          ),
        )
        .orderBy(desc(decisions.id))
        .limit(1);
      if (made.plan !== undefined && !approved)
        throw new Problem(404, `${clip.name} has no such approved plan. Load the page again.`);
      const [version] = await tx
        .insert(versions)
        .values({
          clipId,
          path,
          kind: 'repaired',
          number: Math.max(...own.map((v) => v.number)) + 1,
          madeFrom: made.madeFrom ?? clip.version.id,
          madeBy: approved?.id ?? null,
        })
        .returning();
      const [added] = await tx
        .insert(rechecks)
        .values({ clipId, versionId: version.id, who })
        .returning({ id: rechecks.id });
      return added.id;
    });
    await this.told(clipId);
    await announce(this.database, { kind: 'work' });
    return toClipRecheck(await this.row(id));
  }

  /**
   * Takes up a repaired file that was sent, when it is on the disk, whole. Asked again it answers with what it became.
   * @throws {Problem} when it has not come whole, or is another clip's
   */
  async receive(clipId: string, who: string, uploadId: string, made: MadeOf = {}): Promise<ClipRecheck> {
    await this.clips.row(clipId);
    const before = (await this.rows(eq(rechecks.clipId, clipId))).find(
      ({ version }) => version.path && basename(dirname(version.path)) === uploadId,
    );
    if (before) return toClipRecheck(before);
    const path = await this.returns.taken(uploadId, clipId, this.clips.folderOf(clipId));
    const taken = await this.add(clipId, who, path, made);
    await this.returns.done(uploadId);
    return taken;
  }

  /**
   * Signs a repaired file off, or sends it back. What was signed off stays as it is.
   * @throws {Problem} when it is not rechecked, or was signed off before
   */
  async sign(id: string, signed: Omit<RecheckSigned, 'at'>): Promise<ClipRecheck> {
    if (signed.who === '') throw new Problem(400, 'Say who signs.');
    const found = await this.row(id);
    const { recheck: row } = found;
    if (row.state !== 'done' || !row.recheck)
      throw new Problem(409, 'It has not been rechecked yet. Sign it when its proof is there.');
    if (signed.how === 'signedOff' && signed.reason === '' && toClipRecheck(found).verdict === 'sendBack')
      throw new Problem(
        409,
        'By its recheck it goes back. Let stand what may stand, or say in a remark why it is signed off all the same.',
      );
    const at = new Date().toISOString();
    const [changed] = await this.database
      .update(rechecks)
      .set({ signed: { ...signed, at } })
      .where(and(eq(rechecks.id, id), sql`coalesce(${rechecks.signed}->>'how', '') <> 'signedOff'`))
      .returning({ id: rechecks.id });
    if (!changed) {
      const { signed: before } = (await this.row(id)).recheck;
      throw new Problem(
        409,
        `It was signed off by ${before?.who ?? 'somebody'}: nothing under it changes any more.`,
      );
    }
    await this.told(row.clipId);
    return toClipRecheck(await this.row(id));
  }

  /**
   * Lets a reason stand, or has it count again. Nothing under a file that was signed off changes.
   * @throws {Problem} when it is signed off, or there is no such reason
   */
  async waive(id: string, { who, about, reason }: WaiveReason & { who: string }): Promise<ClipRecheck> {
    if (who === '') throw new Problem(400, 'Say who waives it.');
    const clipId = await this.database.transaction(async (tx) => {
      const [row] = await tx.select().from(rechecks).where(eq(rechecks.id, id)).for('update');
      if (!row) throw NO_SUCH_RETURN();
      mustBeOpen(row);
      if (!storedRecheck(row)?.reasons.some((r) => r.about === about))
        throw new Problem(404, 'Its recheck gives no such reason. Load the page again.');
      const others = row.waived.filter((w) => w.about !== about);
      const own = reason === null ? [] : [{ about, who, at: new Date().toISOString(), reason }];
      await tx
        .update(rechecks)
        .set({ waived: [...others, ...own] })
        .where(eq(rechecks.id, id));
      return row.clipId;
    });
    await this.told(clipId);
    return toClipRecheck(await this.row(id));
  }

  /** Rechecks a file again that failed, or under a spec that has changed; not what was signed off. */
  async again(id: string): Promise<ClipRecheck> {
    const { recheck: row } = await this.row(id);
    mustBeOpen(row);
    await this.database
      .update(rechecks)
      .set({ state: 'waiting', progress: 0, error: null, attempts: 0, leasedBy: null, leasedUntil: null })
      .where(eq(rechecks.id, id));
    await this.told(row.clipId);
    await announce(this.database, { kind: 'work' });
    return toClipRecheck(await this.row(id));
  }

  /** Takes the recheck that is to be made next, the oldest first. */
  async claimNext(by: string, leaseSec: number): Promise<RecheckRow | null> {
    const [claimed] = await this.database
      .update(rechecks)
      .set({
        state: 'running',
        progress: 0,
        error: null,
        leasedBy: by,
        leasedUntil: afterNow(leaseSec),
        attempts: sql`${rechecks.attempts} + 1`,
      })
      .where(
        eq(
          rechecks.id,
          sql`(SELECT ${rechecks.id} FROM ${rechecks} WHERE ${rechecks.state} IN ('waiting', 'running') AND (${rechecks.leasedUntil} IS NULL OR ${rechecks.leasedUntil} < now()) ORDER BY ${rechecks.createdAt} LIMIT 1 FOR UPDATE SKIP LOCKED)`,
        ),
      )
      .returning();
    if (claimed) await this.told(claimed.clipId);
    return claimed ?? null;
  }

  /** Says that it is still worked at. @returns whether it is still wanted */
  async renew(id: string, by: string, leaseSec: number): Promise<boolean> {
    const held = await this.database
      .update(rechecks)
      .set({ leasedUntil: afterNow(leaseSec) })
      .where(and(eq(rechecks.id, id), eq(rechecks.leasedBy, by)))
      .returning({ id: rechecks.id });
    return held.length > 0;
  }

  /** Changes a recheck as long as it is held. */
  async change(
    row: Pick<RecheckRow, 'id' | 'clipId'>,
    by: string,
    change: Partial<RecheckRow>,
  ): Promise<void> {
    await this.database
      .update(rechecks)
      .set(change)
      .where(and(eq(rechecks.id, row.id), eq(rechecks.leasedBy, by)));
    await this.told(row.clipId);
  }

  /** Writes down what a recheck found as long as it is held: its proof comes with what was measured of the file, or neither does. */
  async finish(
    row: Pick<RecheckRow, 'id' | 'clipId' | 'versionId'>,
    by: string,
    change: Partial<RecheckRow>,
    measured: { readonly measurement: Measurement; readonly under: Overrides } | null,
  ): Promise<void> {
    await this.database.transaction(async (tx) => {
      const held = and(eq(rechecks.id, row.id), eq(rechecks.leasedBy, by));
      const [own] = await tx.select({ id: rechecks.id }).from(rechecks).where(held).for('update');
      if (!own) return;
      const { measurements } = this.clips;
      const measurementId =
        measured && (await measurements.add(tx, row.versionId, measured.measurement, measured.under));
      await tx
        .update(rechecks)
        .set({ ...change, measurementId })
        .where(held);
    });
    await this.told(row.clipId);
  }

  /**
   * What was measured of a repaired file, frame by frame.
   * @throws {Problem} when it was not, or before it was kept
   */
  async measurementOf(id: string): Promise<Measurement> {
    const { measurementId } = (await this.row(id)).recheck;
    const found = measurementId && (await this.clips.measurements.find([measurementId])).get(measurementId);
    if (!found || !found.measurement)
      throw new Problem(404, 'What was measured of it is not kept. Have it rechecked again.');
    return found.measurement;
  }

  private async told(clipId: string): Promise<void> {
    await announce(this.database, { kind: 'recheck', clipId });
    // Lists show how far a clip has come.
    await announce(this.database, { kind: 'clip', clipId });
  }
}

const NO_SUCH_RETURN = (): Problem =>
  new Problem(404, 'There is no such repaired file. Its clip may have been removed.');

/** A recheck as it is read today: written by an earlier version it has no reasons. */
const storedRecheck = ({ recheck }: Pick<RecheckRow, 'recheck'>): Recheck | null =>
  recheck && Recheck.parse(recheck);

/** @throws {Problem} when it is signed off */
const mustBeOpen = ({ signed }: Pick<RecheckRow, 'signed'>): void => {
  if (signed?.how === 'signedOff')
    throw new Problem(409, `It was signed off by ${signed.who}: nothing under it changes any more.`);
};

/** The version before it, in the rows of a recheck. */
const before = alias(versions, 'before');

/** What a version was made of in the end: repairs of repairs are proved against what came in. */
const originalOf = (version: VersionRow, own: readonly VersionRow[]): VersionRow | undefined => {
  const from = own.find((v) => v.id === version.madeFrom);
  return from && from.kind !== 'original' && from.id !== version.id ? originalOf(from, own) : from;
};

/** A repaired file as pages know it. */
export const toClipRecheck = ({ recheck: row, version, from, approval }: RecheckOf): ClipRecheck => {
  const recheck = storedRecheck(row);
  const aside = row.waived.map((w) => w.about);
  return {
    id: row.id,
    clipId: row.clipId,
    version: version.number,
    versionId: version.id,
    madeFrom: from,
    madeBy: approval && { id: approval.id, who: approval.who, at: approval.at.toISOString() },
    file: printable(basename(version.path ?? '')),
    who: row.who,
    state: row.state,
    progress: row.progress,
    error: row.error,
    recheck,
    waived: row.waived,
    verdict: recheck && verdictWithout(recheck, aside),
    range: row.lies && recheck?.alignment ? row.lies.range : null,
    signed: row.signed,
    createdAt: row.createdAt.toISOString(),
  };
};
