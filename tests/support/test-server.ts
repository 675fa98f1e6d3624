import { mkdir, mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import pg from 'pg';
import { pino } from 'pino';
import { ClipFacts, type Clip, type ClipDetail, type Measurement } from '@bevrin/contract';
import {
  judgedUnder,
  keepThreads,
  readConfig,
  startServer,
  type RunningServer,
  type Surroundings,
} from '@bevrin/server';
import { settledClip } from './until.js';

export interface TestServer {
  readonly url: string;
  /** What runs behind it. */
  readonly running: RunningServer;
  /** Asks the database itself. */
  query(sql: string, values?: unknown[]): Promise<Record<string, unknown>[]>;
  /** A folder from which clips may be registered. */
  readonly media: string;
  /** Stops the server as a crash would leave it, and starts another one on the same data. */
  restart(): Promise<void>;
  stop(): Promise<void>;
  get<T>(path: string): Promise<T>;
  send(method: string, path: string, body?: unknown): Promise<{ status: number; body: unknown }>;
  /** A clip as if it had been measured so. */
  seed(batchId: string, name: string, measurement: Measurement): Promise<Clip>;
  /** Sets a measurement in the place of a clip's own, without judging it. */
  remeasured(clipId: string, measurement: Measurement): Promise<void>;
  /** Puts so many clips like one into a batch, `clip 0` and on, their noise anywhere from nothing to the worst. */
  multiply(clipId: string, batchId: string, count: number): Promise<void>;
  /** Waits until a clip has come to rest. */
  settled(clipId: string): Promise<ClipDetail>;
}

let count = 0;
keepThreads();

/** A server on a database of its own. */
export const startTestServer = async (
  webDir: string | null = null,
  surroundings: Surroundings = {},
  more: NodeJS.ProcessEnv = {},
): Promise<TestServer> => {
  const base = process.env.TEST_DATABASE_URL;
  if (!base) throw new Error('TEST_DATABASE_URL is not set: run the tests with npm test.');
  const name = `test_${process.pid}_${Date.now()}_${count++}`;
  const admin = new pg.Client({ connectionString: base });
  await admin.connect();
  await admin.query(`CREATE DATABASE ${name}`);
  const home = await mkdtemp(join(tmpdir(), 'bevrin-server-'));
  const media = join(home, 'media');
  await mkdir(media);
  const environment = {
    DATABASE_URL: base.replace(/\/[^/]*$/, `/${name}`),
    BEVRIN_VAR: home,
    MEDIA_DIRS: media,
    PORT: '0',
    // Nothing is tried that nobody asks for, unless a test is about it.
    BEVRIN_TRIAL_MINUTES: '0',
    ...more,
  };
  const start = (): Promise<RunningServer> =>
    startServer(readConfig(environment, webDir), pino({ level: 'silent' }), surroundings);
  let running = await start();
  const request = (path: string, init?: RequestInit): Promise<Response> =>
    fetch(`${running.url}/api${path}`, init);
  const server: TestServer = {
    get url() {
      return running.url;
    },
    get running() {
      return running;
    },
    query: async (sql, values) => {
      const client = new pg.Client({ connectionString: environment.DATABASE_URL });
      await client.connect();
      try {
        return (await client.query<Record<string, unknown>>(sql, values)).rows;
      } finally {
        await client.end();
      }
    },
    media,
    restart: async () => {
      await running.stop();
      running = await start();
    },
    stop: async () => {
      await running.stop();
      await admin.query(`DROP DATABASE ${name} WITH (FORCE)`);
      await admin.end();
      await rm(home, { recursive: true, force: true });
    },
    get: async <T>(path: string) => (await (await request(path)).json()) as T,
    send: async (method, path, body) => {
      const answer = await request(path, {
        method,
        headers: { 'content-type': 'application/json' },
        body: body === undefined ? undefined : JSON.stringify(body),
      });
      const text = await answer.text();
      return { status: answer.status, body: text ? (JSON.parse(text) as unknown) : null };
    },
    seed: async (batchId, name, measurement) => {
      const { clips } = running.store;
      const named = { ...measurement, clip: { ...measurement.clip, file: name } };
      const spec = await clips.specs.find((await clips.batch(batchId)).specId);
      const { id } = await clips.add({
        batchId,
        name,
        state: 'measured',
        file: { path: join(media, name) },
      });
      const { version } = await clips.row(id);
      await clips.changeVersion(version, { facts: factsOf(named) });
      await clips.change(id, { progress: 1, ...judgedUnder(named, spec) });
      await server.remeasured(id, named);
      return clips.told(id);
    },
    remeasured: async (clipId, measurement) => {
      const { clips, database } = running.store;
      const { version } = await clips.row(clipId);
      const added = await clips.addMeasurement(database, version.id, {
        measurement,
        overrides: {},
        machine: null,
      });
      await clips.change(clipId, added);
    },
    multiply: async (clipId, batchId, count) => {
      await server.query(
        `INSERT INTO clips (batch_id, name, state, progress, version_id, summary)
         SELECT $2, 'clip ' || n, 'measured', 1, version_id,
           jsonb_set(summary, '{findings}', (
             SELECT jsonb_agg(CASE WHEN f->>'defect' = 'noise'
               THEN f || jsonb_build_object('severity', (n * 37) % 101) ELSE f END)
             FROM jsonb_array_elements(summary->'findings') f))
         FROM clips, generate_series(0, $3::int - 1) n WHERE id = $1`,
        [clipId, batchId, count],
      );
    },
    settled: (clipId) => settledClip(() => server.get(`/clips/${clipId}`)),
  };
  return server;
};

/** What the file itself says, without what the measurement found out. */
const factsOf = ({ clip }: Measurement): ClipFacts =>
  ClipFacts.parse(Object.fromEntries(Object.entries(clip).filter(([name]) => name in ClipFacts.shape)));
