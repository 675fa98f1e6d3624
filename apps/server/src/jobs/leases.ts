import { and, eq, inArray, sql, type SQL } from 'drizzle-orm';
import type { ClipRow } from '../clips/clip-rows.js';
import type { ClipStore } from '../clips/clips.js';
import type { Database, Transaction } from '../database/connect.js';
import { clips, measurements, versions } from '../database/schema.js';
import { announce } from '../events/announcements.js';

type Change = Partial<typeof clips.$inferInsert>;

/**
 * Who measures which clip, and until when that holds if nothing is heard of them. It stands with the clips in the
 * database, so that several processes, on several machines, agree on it.
 */
export class Leases {
  constructor(
    private readonly database: Database,
    private readonly store: ClipStore,
  ) {}

  /**
   * Takes the clip that waits longest, so that nobody else measures it until the lease has run out.
   * @returns `null` when none waits
   */
  async claimNext(by: string, leaseSec: number): Promise<ClipRow | null> {
    const [claimed] = await this.database
      .update(clips)
      .set({
        state: 'measuring',
        progress: 0,
        error: null,
        leasedBy: by,
        leasedUntil: afterNow(leaseSec),
        attempts: sql`${clips.attempts} + 1`,
      })
      .where(
        eq(
          clips.id,
          sql`(SELECT ${clips.id} FROM ${clips} WHERE ${CLAIMABLE} ORDER BY ${clips.createdAt}, ${clips.position} LIMIT 1 FOR UPDATE SKIP LOCKED)`,
        ),
      )
      .returning({ id: clips.id });
    if (!claimed) return null;
    await this.store.announced(claimed.id);
    return this.store.row(claimed.id);
  }

  /** Says that the clips are still being measured. */
  async renew(ids: readonly string[], by: string, leaseSec: number): Promise<void> {
    if (ids.length === 0) return;
    await this.database
      .update(clips)
      .set({ leasedUntil: afterNow(leaseSec) })
      .where(and(inArray(clips.id, [...ids]), eq(clips.leasedBy, by)));
  }

  /**
   * Ends a lease with what came of it; nothing is changed when the clip was taken over meanwhile.
   * @param change what came of it, worked out within the same transaction
   * @param pauseSec how long it waits before it may be claimed again
   */
  async release(
    id: string,
    by: string,
    change: Change | ((tx: Transaction) => Promise<Change>),
    pauseSec: number | null = null,
  ): Promise<void> {
    await this.database.transaction(async (tx) => {
      const held = await tx
        .select({ id: clips.id })
        .from(clips)
        .where(and(eq(clips.id, id), eq(clips.leasedBy, by)))
        .for('update');
      if (held.length === 0) return;
      const changed = typeof change === 'function' ? await change(tx) : change;
      await tx
        .update(clips)
        .set({ ...changed, leasedBy: null, leasedUntil: pauseSec === null ? null : afterNow(pauseSec) })
        .where(eq(clips.id, id));
      await announce(tx, { kind: 'clip', clipId: id });
    });
  }
}

/** Now, as the database has it: the clocks of several machines differ. */
export const afterNow = (seconds: number): SQL => sql`now() + make_interval(secs => ${seconds})`;

/** Its file is there, it waits or was overruled and not measured since, and nobody is at it. */
const CLAIMABLE = sql`
  (${clips.leasedUntil} IS NULL OR ${clips.leasedUntil} < now())
  AND EXISTS (SELECT 1 FROM ${versions} WHERE ${versions.id} = ${clips.versionId} AND ${versions.path} IS NOT NULL)
  AND (${clips.state} IN ('queued', 'measuring') OR (${clips.state} = 'measured' AND EXISTS (
    SELECT 1 FROM ${measurements} WHERE ${measurements.id} = ${clips.measurementId}
    AND ${measurements.overrides} IS DISTINCT FROM ${clips.overrides})))`;
