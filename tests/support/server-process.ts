import { spawn, type ChildProcess } from 'node:child_process';
import { mkdir, mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import getPort from 'get-port';
import pg from 'pg';
import type { ClipDetail } from '@bevrin/contract';
import { settledClip } from './until.js';

/** A server in a process of its own, which can be killed. It keeps its port, its data and its files. */
export class ServerProcess {
  private child: ChildProcess | null = null;
  private readonly workers: ChildProcess[] = [];

  private constructor(
    readonly home: string,
    readonly url: string,
    private readonly environment: NodeJS.ProcessEnv,
    private readonly database: { readonly admin: string; readonly name: string },
    private readonly root: string,
  ) {}

  /**
   * On a database of its own, made in the server that the tests run on.
   * @param root the sources that it runs from
   */
  static async start(root = '.', more: NodeJS.ProcessEnv = {}): Promise<ServerProcess> {
    const base = process.env.TEST_DATABASE_URL;
    if (!base) throw new Error('TEST_DATABASE_URL is not set: run the tests with npm test.');
    const name = `killed_${process.pid}_${Date.now()}`;
    const client = new pg.Client({ connectionString: base });
    await client.connect();
    await client.query(`CREATE DATABASE ${name}`);
    await client.end();
    const home = await mkdtemp(join(tmpdir(), 'bevrin-killed-'));
    await mkdir(join(home, 'media'));
    const port = await getPort();
    const environment = {
      ...process.env,
      DATABASE_URL: base.replace(/\/[^/]*$/, `/${name}`),
      BEVRIN_VAR: home,
      MEDIA_DIRS: join(home, 'media'),
      PORT: String(port),
      LOG_LEVEL: 'silent',
      BEVRIN_TRIAL_MINUTES: '0',
      ...more,
    };
    const server = new ServerProcess(
      home,
      `http://127.0.0.1:${port}`,
      environment,
      { admin: base, name },
      root,
    );
    await server.resume();
    return server;
  }

  get media(): string {
    return join(this.home, 'media');
  }

  /** Starts it (again) and waits until it answers. */
  async resume(more: NodeJS.ProcessEnv = {}): Promise<void> {
    Object.assign(this.environment, more);
    this.child = await this.spawned(this.environment);
  }

  /** A process beside it that only measures, on the same database and the same files. */
  async startWorker(): Promise<ChildProcess> {
    const worker = await this.spawned({ ...this.environment, BEVRIN_ROLE: 'worker' });
    this.workers.push(worker);
    return worker;
  }

  private async spawned(env: NodeJS.ProcessEnv): Promise<ChildProcess> {
    // Built where it was built, which starts in a tenth of the time; other sources than ours are run as they are.
    const built = this.root === '.' ? process.env.BEVRIN_THREADS : undefined;
    const program = built ? [join(built, 'main.js')] : ['--import', 'tsx', 'apps/server/src/main.ts'];
    const child = spawn(process.execPath, program, {
      cwd: this.root,
      env: { ...env, NODE_OPTIONS: '', BEVRIN_THREADS: built },
      stdio: ['ignore', 'ignore', 'pipe'],
    });
    let said = '';
    await new Promise<void>((ready, failed) => {
      child.stderr.setEncoding('utf8').on('data', (text: string) => {
        said += text;
        if (/server on|worker at work/.test(said)) ready();
      });
      child.once('exit', (code, signal) =>
        failed(new Error(`the server ended (${code ?? signal}): ${said}`)),
      );
    });
    return child;
  }

  /** As the kernel does it when memory runs out: nothing is told, nothing is finished. */
  async kill(): Promise<void> {
    const { child } = this;
    if (!child || child.exitCode !== null) return;
    await new Promise<void>((done) => {
      child.once('exit', () => done());
      child.kill('SIGKILL');
    });
  }

  async remove(): Promise<void> {
    await this.kill();
    for (const worker of this.workers) worker.kill('SIGKILL');
    const client = new pg.Client({ connectionString: this.database.admin });
    await client.connect();
    await client.query(`DROP DATABASE ${this.database.name} WITH (FORCE)`);
    await client.end();
    await rm(this.home, { recursive: true, force: true });
  }

  /** Asks the database itself. */
  async query(sql: string, values: unknown[] = []): Promise<Record<string, unknown>[]> {
    const client = new pg.Client({ connectionString: this.environment.DATABASE_URL });
    await client.connect();
    try {
      return (await client.query<Record<string, unknown>>(sql, values)).rows;
    } finally {
      await client.end();
    }
  }

  async get<T>(path: string): Promise<T> {
    return (await (await fetch(`${this.url}/api${path}`)).json()) as T;
  }

  async send<T>(method: string, path: string, body: unknown): Promise<{ status: number; body: T }> {
    const answer = await fetch(`${this.url}/api${path}`, {
      method,
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify(body),
    });
    return { status: answer.status, body: (await answer.json()) as T };
  }

  /** Waits until a clip has been measured, or cannot be. */
  settled(clipId: string): Promise<ClipDetail> {
    return settledClip(() => this.get(`/clips/${clipId}`));
  }
}
