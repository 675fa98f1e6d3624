import { desc, eq, type SQL } from 'drizzle-orm';
import type { Along } from '@bevrin/contract';
import type { Database } from '../database/connect.js';
import { clips, rechecks } from '../database/schema.js';

/** The newest repaired file that came back for each clip, as a list needs it. */
export const newestReturns = async (
  database: Database,
  which: SQL,
): Promise<Map<string, NonNullable<Along['returned']>>> => {
  const rows = await database
    .selectDistinctOn([rechecks.clipId], {
      clipId: rechecks.clipId,
      state: rechecks.state,
      signed: rechecks.signed,
    })
    .from(rechecks)
    .innerJoin(clips, eq(rechecks.clipId, clips.id))
    .where(which)
    .orderBy(rechecks.clipId, desc(rechecks.createdAt));
  return new Map(rows.map((r) => [r.clipId, { done: r.state === 'done', signed: r.signed?.how ?? null }]));
};
