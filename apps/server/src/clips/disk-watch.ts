import { statfs } from 'node:fs/promises';
import type { HouseStatus } from '@bevrin/contract';
import { Problem } from '../http/problem.js';

const LOOK_EVERY_MS = 2000;
/** Work goes on when this much more than the reserve is free: not at every file that is removed. */
const RESUME_FACTOR = 1.05;

const freeBytes = async (folder: string): Promise<number> => {
  const { bavail, bsize } = await statfs(folder);
  return bavail * bsize;
};

/**
 * Keeps a reserve of the disk free: below it nothing is taken in and nothing is measured, so that the database can still
 * write down what is decided. Work goes on by itself when there is room again.
 */
export class DiskWatch {
  private free = Infinity;
  private full = false;
  private timer: NodeJS.Timeout | undefined;
  private readonly listeners = new Set<(status: HouseStatus) => void>();

  /**
   * @param folder on the disk that is watched
   * @param reserveBytes to be kept free
   * @param measure free bytes on the disk of a folder
   */
  constructor(
    private readonly folder: string,
    private readonly reserveBytes: number,
    private readonly measure: (folder: string) => Promise<number> = freeBytes,
  ) {}

  /** Whether the reserve has been reached. */
  get paused(): boolean {
    return this.full;
  }

  get status(): HouseStatus {
    const known = Number.isFinite(this.free) ? this.free : null;
    return { storage: { paused: this.full, freeBytes: known, reserveBytes: this.reserveBytes } };
  }

  /** Is called whenever work is paused or goes on. */
  onChange(listener: (status: HouseStatus) => void): void {
    this.listeners.add(listener);
  }

  async start(): Promise<void> {
    await this.look();
    this.timer = setInterval(() => void this.look(), LOOK_EVERY_MS);
    this.timer.unref();
  }

  stop(): void {
    clearInterval(this.timer);
  }

  /** Looks now: somebody was told that the disk is full. */
  async look(): Promise<void> {
    // A disk that cannot be asked is taken for what it was.
    this.free = await this.measure(this.folder).catch(() => this.free);
    const full = this.free < this.reserveBytes * (this.full ? RESUME_FACTOR : 1);
    if (full === this.full) return;
    this.full = full;
    for (const listener of this.listeners) listener(this.status);
  }

  /** @throws {Problem} while the reserve has been reached */
  mustHaveRoom(): void {
    if (this.full) throw new Problem(507, this.sentence());
  }

  sentence(): string {
    return `The server's disk is nearly full: ${inMB(this.free)} MB are free, and ${inMB(this.reserveBytes)} MB are kept for what is decided. Nothing is taken in or measured until some space is freed; then it goes on by itself.`;
  }
}

const inMB = (bytes: number): number => Math.round(bytes / 1e6);
