import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { drizzle, type NodePgDatabase } from 'drizzle-orm/node-postgres';
import { migrate } from 'drizzle-orm/node-postgres/migrator';
import pg from 'pg';
import * as schema from './schema.js';

export type Database = NodePgDatabase<typeof schema>;

const MIGRATIONS = join(dirname(fileURLToPath(import.meta.url)), '..', '..', 'drizzle');

/** Connects and brings the schema up to date. */
export const connect = async (
  databaseUrl: string,
): Promise<{ database: Database; close: () => Promise<void> }> => {
  const pool = new pg.Pool({ connectionString: databaseUrl, max: 8 });
  // A connection that the server drops while idle is replaced at its next use.
  pool.on('error', () => undefined);
  // One that breaks while it is in use fails the query that was under way; it must not end the process as well.
  pool.on('connect', (client) => client.on('error', () => undefined));
  const database = drizzle(pool, { schema });
  await migrate(database, { migrationsFolder: MIGRATIONS });
  return { database, close: () => pool.end() };
};
