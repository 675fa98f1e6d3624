import { LRUCache } from 'lru-cache';
import { layoutOf, openSource, probeClip } from '@bevrin/media';
import { Problem } from '../http/problem.js';
import type { RecheckOutcome } from '../jobs/recheck-task.js';
import { threadsFor, type Threads } from '../jobs/threads.js';
import type { RecheckStore } from '../rechecks/recheck-store.js';
import type { StoredFrame } from './frame-runs.js';

const KEPT_BYTES = 128 * 2 ** 20;
/** Both sides of a split are asked for at once, and the next frame with them. */
const AT_ONCE = 2;

/** Frames of repaired files as they lie over their originals; made in threads of their own, and kept for a while. */
export class AlignedFrames {
  private threads: Threads | null = null;
  private readonly kept = new LRUCache<string, StoredFrame>({
    maxSize: KEPT_BYTES,
    sizeCalculation: ({ bytes }) => bytes.byteLength,
  });

  constructor(private readonly rechecks: RecheckStore) {}

  /**
   * @param frame of the original
   * @throws {Problem} where the repaired file does not show it
   */
  async frame(id: string, frame: number): Promise<StoredFrame> {
    const { recheck: row, original, repaired } = await this.rechecks.filesOf(id);
    if (!row.lies) throw new Problem(409, 'The repaired file could not be laid over the original.');
    const key = `${id} ${row.versionId} ${frame}`;
    const known = this.kept.get(key);
    if (known) return known;
    this.threads ??= threadsFor('recheck-thread', 'frames', AT_ONCE);
    const { range: _range, ...lies } = row.lies;
    const task = { kind: 'frame', original, repaired, lies, frame };
    const outcome = (await this.threads.run(task)) as RecheckOutcome;
    if ('message' in outcome) throw new Problem(422, outcome.message);
    if (!('bytes' in outcome) || !outcome.bytes)
      throw new Problem(404, `The repaired file does not show frame ${frame} of the original.`);
    const frameOf = {
      layout: layoutOf(await probeClip(await openSource(original))),
      bytes: Buffer.from(outcome.bytes),
    };
    this.kept.set(key, frameOf);
    return frameOf;
  }

  stop(): void {
    void this.threads?.end();
  }
}
