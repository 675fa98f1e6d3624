import { isDeepStrictEqual } from 'node:util';
import type { ClipStore } from '../clips/clips.js';
import type { Database } from '../database/connect.js';
import { announce } from '../events/announcements.js';

/** Hands clips over to whoever measures. What is to be done stands with the clips themselves. */
export class MeasureQueue {
  constructor(
    private readonly database: Database,
    private readonly store: ClipStore,
  ) {}

  /**
   * Lets a clip be received and measured.
   * @param fresh whether it is measured from nothing, whatever is known of it
   */
  async enqueue(clipId: string, fresh = false): Promise<void> {
    await this.store.change(clipId, {
      state: 'queued',
      progress: 0,
      error: null,
      attempts: 0,
      leasedBy: null,
      leasedUntil: null,
      ...(fresh ? { fresh } : {}),
    });
    await announce(this.database, { kind: 'work' });
  }

  /** Lets be measured what a technician has overruled since the clip was measured. */
  async catchUp(clipId: string): Promise<void> {
    const row = await this.store.row(clipId);
    if (row.measurementId === null || (row.state !== 'measured' && row.state !== 'failed')) return;
    const under = await this.store.measurements.overridesOf(row.measurementId);
    if (!isDeepStrictEqual(row.overrides, under)) await this.enqueue(clipId);
    // What could not be measured was taken back: the readings are what they should be again.
    else if (row.state === 'failed')
      await this.store.change(clipId, { state: 'measured', progress: 1, error: null });
  }
}
