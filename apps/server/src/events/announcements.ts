import { sql } from 'drizzle-orm';
import { z } from 'zod';
import type { Connection, Database, Listening, Transaction } from '../database/connect.js';

const CHANNEL = 'bevrin';

/**
 * What one process of the house tells the others. Names only: a notification of PostgreSQL holds no more than 8000 bytes,
 * and whoever hears one reads what it needs.
 */
const Announcement = z.discriminatedUnion('kind', [
  /** Something about a clip has changed. */
  z.strictObject({ kind: z.literal('clip'), clipId: z.uuid() }),
  z.strictObject({ kind: z.literal('clipRemoved'), batchId: z.uuid(), clipId: z.uuid() }),
  /** Something about a trial has changed. */
  z.strictObject({ kind: z.literal('trial'), clipId: z.uuid(), trialId: z.uuid() }),
  /** Something about a recheck has changed. */
  z.strictObject({ kind: z.literal('recheck'), clipId: z.uuid() }),
  /** A clip waits to be received and measured, or a trial to be made. */
  z.strictObject({ kind: z.literal('work') }),
]);
export type Announcement = z.infer<typeof Announcement>;

/** Tells every process of the house; within a transaction, when it is committed. */
export const announce = async (database: Database | Transaction, what: Announcement): Promise<void> => {
  await database.execute(sql`SELECT pg_notify(${CHANNEL}, ${JSON.stringify(what)})`);
};

/**
 * Hears what the processes of the house announce.
 * @param missed is called when announcements may have been missed
 */
export const hearAnnouncements = (
  { listen }: Connection,
  hear: (what: Announcement) => void,
  missed: () => void,
): Promise<Listening> =>
  listen(
    CHANNEL,
    (payload) => {
      const announced = Announcement.safeParse(parsed(payload));
      // A newer version of the house may announce what this one does not know.
      if (announced.success) hear(announced.data);
    },
    missed,
  );

const parsed = (payload: string): unknown => {
  try {
    return JSON.parse(payload);
  } catch {
    return null;
  }
};
