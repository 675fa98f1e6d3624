import { eq, inArray } from 'drizzle-orm';
import { USUAL_NEIGHBOUR_LIMITS, type BesideFinding } from '@bevrin/contract';
import { besideOf } from '@bevrin/core';
import type { Database } from '../database/connect.js';
import { groupedBy } from '../database/grouped.js';
import { batches, clips } from '../database/schema.js';
import type { SpecStore } from '../specs/specs.js';

/** How the clips of some batches differ from the others of their rolls, by their ids. Only what lists show is read. */
export const besideIn = async (
  database: Database,
  specs: SpecStore,
  batchIds: readonly string[],
): Promise<Map<string, BesideFinding[]>> => {
  const rows = await database
    .select({
      id: clips.id,
      name: clips.name,
      summary: clips.summary,
      batchId: clips.batchId,
      own: clips.specId,
      batch: batches.specId,
    })
    .from(clips)
    .innerJoin(batches, eq(clips.batchId, batches.id))
    .where(inArray(clips.batchId, [...new Set(batchIds)]));
  const limits = new Map((await specs.all()).map((s) => [s.id, s.beside ?? USUAL_NEIGHBOUR_LIMITS]));
  const specOf = new Map(rows.map((r) => [r.id, r.own ?? r.batch]));
  const inBatch = groupedBy(rows, (r) => r.batchId);
  return new Map(
    [...new Set(batchIds)].flatMap((id) => [
      ...besideOf(inBatch(id), (clipId) => limits.get(specOf.get(clipId) ?? '') ?? USUAL_NEIGHBOUR_LIMITS),
    ]),
  );
};
