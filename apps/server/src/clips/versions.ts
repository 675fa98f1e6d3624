import { eq } from 'drizzle-orm';
import type { ClipDetail, Measurement, Overrides } from '@bevrin/contract';
import type { Transaction } from '../database/connect.js';
import { clips, versions, type ClipColumns, type VersionRow } from '../database/schema.js';

/** What a clip is begun with. */
export interface NewClip {
  readonly batchId: string;
  readonly name: string;
  readonly state: ClipColumns['state'];
  /** Where its file is, or which upload will be it. */
  readonly file: Pick<VersionRow, 'path'> | Pick<VersionRow, 'uploadId'>;
  readonly truth?: ClipDetail['truth'];
}

/** What came of measuring. */
export interface NewMeasurement {
  readonly measurement: Measurement;
  readonly overrides: Overrides;
  /** What the machine says on its own, where it was overruled; the id of a row where that is known already. */
  readonly machine: Measurement | string | null;
}

/** Adds a file to a clip; it is the one that is looked at from here on. */
export const addVersion = async (
  tx: Transaction,
  clipId: string,
  version: Omit<typeof versions.$inferInsert, 'clipId'>,
): Promise<VersionRow> => {
  const [row] = await tx
    .insert(versions)
    .values({ ...version, clipId })
    .returning();
  await tx.update(clips).set({ versionId: row.id }).where(eq(clips.id, clipId));
  return row;
};
