import { and, asc, eq, inArray, isNotNull, isNull, or, sql, type SQL } from 'drizzle-orm';
import type { Clip } from '@bevrin/contract';
import type { ClipStore } from '../clips/clips.js';
import type { Database } from '../database/connect.js';
import { clips, type ClipRow } from '../database/schema.js';

/**
 * Who measures which clip, and until when that holds if nothing is heard of them. It stands with the clips in the
 * database, so that several processes, on several machines, agree on it.
 */
export class Leases {
  constructor(
    private readonly database: Database,
    private readonly store: ClipStore,
  ) {}

  /** Clips that wait to be measured, or whose measuring nobody keeps up any more; the earliest first. */
  async waiting(most: number): Promise<string[]> {
    const rows = await this.database
      .select({ id: clips.id })
      .from(clips)
      .where(CLAIMABLE)
      .orderBy(asc(clips.createdAt), asc(clips.position))
      .limit(most);
    return rows.map((r) => r.id);
  }

  /**
   * Takes a clip for measuring, so that nobody else does until the lease has run out.
   * @returns the clip; `null` when it needs no measuring, or somebody has it
   */
  async claim(id: string, by: string, leaseSec: number): Promise<ClipRow | null> {
    const [row] = await this.database
      .update(clips)
      .set({
        state: 'measuring',
        progress: 0,
        error: null,
        leasedBy: by,
        leasedUntil: afterNow(leaseSec),
        attempts: sql`${clips.attempts} + 1`,
      })
      .where(and(eq(clips.id, id), CLAIMABLE))
      .returning();
    if (row) await this.store.told(row);
    return row ?? null;
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
   * @param pauseSec how long it waits before it may be claimed again
   */
  async release(
    id: string,
    by: string,
    change: Partial<typeof clips.$inferInsert>,
    pauseSec: number | null = null,
  ): Promise<Clip | null> {
    const [row] = await this.database
      .update(clips)
      .set({ ...change, leasedBy: null, leasedUntil: pauseSec === null ? null : afterNow(pauseSec) })
      .where(and(eq(clips.id, id), eq(clips.leasedBy, by)))
      .returning();
    return row ? this.store.told(row) : null;
  }
}

/** Now, as the database has it: the clocks of several machines differ. */
const afterNow = (seconds: number): SQL => sql`now() + make_interval(secs => ${seconds})`;

/** Waits, or was overruled and not measured since, and nobody is at it. */
const CLAIMABLE = and(
  isNotNull(clips.path),
  or(isNull(clips.leasedUntil), sql`${clips.leasedUntil} < now()`),
  or(
    inArray(clips.state, ['queued', 'measuring']),
    and(
      eq(clips.state, 'measured'),
      sql`${clips.overrides} IS DISTINCT FROM coalesce(${clips.measuredUnder}, '{}'::jsonb)`,
    ),
  ),
)!;
