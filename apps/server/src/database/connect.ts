import { existsSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { drizzle, type NodePgDatabase } from 'drizzle-orm/node-postgres';
import { migrate } from 'drizzle-orm/node-postgres/migrator';
import pg from 'pg';
import * as schema from './schema.js';

export type Database = NodePgDatabase<typeof schema>;
export type Transaction = Parameters<Parameters<Database['transaction']>[0]>[0];

const HERE = dirname(fileURLToPath(import.meta.url));
/** Above the sources of this folder, and beside the folder of the built program. */
const MIGRATIONS = [join(HERE, '..', '..', 'drizzle'), join(HERE, '..', 'drizzle')].find(existsSync)!;
/** Any number that nobody else locks: several processes that start at once bring the schema up to date one by one. */
const MIGRATING = 4180_0001;
const TRY_AGAIN_MS = 300;

export interface Listening {
  stop(): Promise<void>;
}

export interface Connection {
  readonly database: Database;
  /**
   * Hears what any process of the house announces on a channel (`NOTIFY`), on a connection of its own.
   * @param hear is given the payload
   * @param back is called when the connection is there again after it was lost: what was said meanwhile was missed
   */
  listen(channel: string, hear: (payload: string) => void, back?: () => void): Promise<Listening>;
  close(): Promise<void>;
}

/** Connects and brings the schema up to date. */
export const connect = async (databaseUrl: string): Promise<Connection> => {
  await bringUpToDate(databaseUrl);
  const pool = new pg.Pool({ connectionString: databaseUrl, max: 12 });
  // A connection that the server drops while idle is replaced at its next use.
  pool.on('error', () => undefined);
  // One that breaks while it is in use fails the query that was under way; it must not end the process as well.
  pool.on('connect', (client) => client.on('error', () => undefined));
  return {
    database: drizzle(pool, { schema }),
    listen: async (channel, hear, back) => {
      const listener = new Listener(databaseUrl, channel, hear, back ?? (() => undefined));
      await listener.open();
      return listener;
    },
    close: () => pool.end(),
  };
};

const bringUpToDate = async (databaseUrl: string): Promise<void> => {
  const client = new pg.Client({ connectionString: databaseUrl });
  await client.connect();
  try {
    await client.query('SELECT pg_advisory_lock($1)', [MIGRATING]);
    await migrate(drizzle(client), { migrationsFolder: MIGRATIONS });
  } finally {
    await client.end();
  }
};

/** Keeps listening, however often the database goes away. */
class Listener implements Listening {
  private client: pg.Client | null = null;
  private stopped = false;

  constructor(
    private readonly databaseUrl: string,
    private readonly channel: string,
    private readonly hear: (payload: string) => void,
    private readonly back: () => void,
  ) {}

  async open(): Promise<void> {
    const client = new pg.Client({ connectionString: this.databaseUrl, keepAlive: true });
    client.on('error', () => undefined);
    client.on('notification', ({ payload }) => this.hear(payload ?? ''));
    await client.connect();
    await client.query(`LISTEN ${client.escapeIdentifier(this.channel)}`);
    this.client = client;
    client.once('end', () => void this.again());
  }

  private async again(): Promise<void> {
    for (this.client = null; !this.stopped && !this.client;) {
      await new Promise((done) => setTimeout(done, TRY_AGAIN_MS));
      await this.open().then(this.back, () => undefined);
    }
    if (this.stopped) await this.stop();
  }

  async stop(): Promise<void> {
    this.stopped = true;
    await this.client?.end().catch(() => undefined);
  }
}
