import { spawn, type ChildProcess } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { familyOf, processInfo } from '../setup/processes.js';

export type Victim = 'server' | 'decoder' | 'database';
const START_AGAIN_AFTER_MS = 300;
const TOOLS = new Set(['ffmpeg', 'ffprobe']);

/** A Bevrin as a house runs it: started by the start command, and started again whenever it ends. */
export class House {
  private child: ChildProcess | null = null;
  private closing = false;
  private output = '';

  constructor(
    readonly home: string,
    private readonly port: number,
  ) {}

  get url(): string {
    return `http://127.0.0.1:${this.port}/api`;
  }

  open(): void {
    const child = spawn(process.execPath, ['--import', 'tsx', 'scripts/start.ts'], {
      env: {
        ...process.env,
        BEVRIN_VAR: this.home,
        MEDIA_DIRS: join(this.home, 'media'),
        PORT: String(this.port),
        DATABASE_URL: '',
      },
      stdio: ['ignore', 'pipe', 'pipe'],
    });
    this.child = child;
    for (const pipe of [child.stdout, child.stderr])
      pipe
        .setEncoding('utf8')
        .on('data', (text: string) => (this.output = (this.output + text).slice(-8000)));
    child.once('exit', () => {
      if (!this.closing) setTimeout(() => this.closing || this.open(), START_AGAIN_AFTER_MS);
    });
  }

  /** The last that the processes printed, for whoever looks into a failure. */
  get printed(): string {
    return this.output;
  }

  async close(): Promise<void> {
    this.closing = true;
    const { child } = this;
    if (!child || child.exitCode !== null || child.signalCode !== null) return;
    await new Promise<void>((done) => {
      child.once('exit', () => done());
      child.kill('SIGTERM');
    });
  }

  /**
   * Kills a part of the house, as the kernel does when memory runs out.
   * @returns whether there was something to kill
   */
  kill(victim: Victim): boolean {
    const pid = this.find(victim);
    if (pid === null) return false;
    try {
      process.kill(pid, 'SIGKILL');
      return true;
    } catch {
      return false;
    }
  }

  private find(victim: Victim): number | null {
    const server = this.child?.pid ?? null;
    if (victim === 'server')
      return this.child?.exitCode === null && this.child.signalCode === null ? server : null;
    if (victim === 'decoder')
      return familyOf(server ?? 0).find((p) => TOOLS.has(p.name) && !p.zombie)?.pid ?? null;
    try {
      const note = readFileSync(join(this.home, 'postgres', 'cluster', 'postmaster.pid'), 'utf8');
      const pid = Number(note.split('\n')[0]);
      return processInfo(pid)?.name === 'postgres' ? pid : null;
    } catch {
      return null;
    }
  }
}
