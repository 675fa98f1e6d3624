import { inArray } from 'drizzle-orm';
import type { BesideFinding } from '@bevrin/contract';
import { besideOf } from '@bevrin/core';
import type { Database } from '../database/connect.js';
import { groupedBy } from '../database/grouped.js';
import { clips } from '../database/schema.js';
import type { SpecStore } from '../specs/specs.js';

/** How the clips of some batches differ from the others of their rolls, by their ids. Only what lists show is read. */
export const besideIn = async (
  database: Database,
  specs: SpecStore,
  batchIds: readonly string[],
): Promise<Map<string, BesideFinding[]>> => {
  const ids = [...new Set(batchIds)];
  const rows = await database
    .select({ id: clips.id, name: clips.name, summary: clips.summary, batchId: clips.batchId })
    .from(clips)
    .where(inArray(clips.batchId, ids));
  const inForce = await specs.all();
  const inBatch = groupedBy(rows, (r) => r.batchId);
  return new Map(ids.flatMap((id) => [...besideOf(inBatch(id), inForce)]));
};
