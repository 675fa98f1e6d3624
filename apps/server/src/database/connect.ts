import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { drizzle, type NodePgDatabase } from 'drizzle-orm/node-postgres';
import { migrate } from 'drizzle-orm/node-postgres/migrator';
import pg from 'pg';
import { isUnreachable } from '../http/problem.js';
import * as schema from './schema.js';

export type Database = NodePgDatabase<typeof schema>;

const MIGRATIONS = join(dirname(fileURLToPath(import.meta.url)), '..', '..', 'drizzle');

const TRY_AGAIN_MS = 300;

export interface Connection {
  readonly database: Database;
  /** Asks until the database answers, however long it is away: for work that goes on when it is back. */
  executeSql(text: string, values: unknown[]): Promise<{ rows: unknown[] }>;
  close(): Promise<void>;
}

/** Connects and brings the schema up to date. */
export const connect = async (databaseUrl: string): Promise<Connection> => {
  const pool = new pg.Pool({ connectionString: databaseUrl, max: 12 });
  // A connection that the server drops while idle is replaced at its next use.
  pool.on('error', () => undefined);
  // One that breaks while it is in use fails the query that was under way; it must not end the process as well.
  pool.on('connect', (client) => client.on('error', () => undefined));
  const database = drizzle(pool, { schema });
  await migrate(database, { migrationsFolder: MIGRATIONS });
  let closed = false;
  return {
    database,
    executeSql: async (text, values) => {
      for (;;) {
        try {
          return await pool.query<Record<string, unknown>>(text, values);
        } catch (error) {
          if (closed || !isUnreachable(error)) throw error;
          await new Promise((done) => setTimeout(done, TRY_AGAIN_MS));
        }
      }
    },
    close: async () => {
      closed = true;
      await pool.end();
    },
  };
};
