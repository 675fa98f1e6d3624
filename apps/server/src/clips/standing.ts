import { and, asc, desc, eq, inArray, sql, type SQL } from 'drizzle-orm';
import type { Along } from '@bevrin/contract';
import { STANDING_DECISIONS } from '@bevrin/core';
import type { Database } from '../database/connect.js';
import { groupedBy } from '../database/grouped.js';
import { clips, decisions, rechecks, type DecisionRow } from '../database/schema.js';

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

/** The decisions on which the standing of clips rests, by clip. */
export const standingDecisions = async (
  database: Database,
  which: SQL,
): Promise<(clipId: string) => readonly DecisionRow[]> => {
  const rows = await database
    .select({ decision: decisions })
    .from(decisions)
    .innerJoin(clips, eq(decisions.clipId, clips.id))
    .where(and(which, inArray(sql`${decisions.decision}->>'kind'`, [...STANDING_DECISIONS])))
    .orderBy(asc(decisions.id));
  return groupedBy(
    rows.map((r) => r.decision),
    (d) => d.clipId,
  );
};
