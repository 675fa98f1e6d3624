import { LRUCache } from 'lru-cache';
import type { FrameLayout } from '@bevrin/contract';
import { ClipUnreadable, FrameRun, layoutOf, type ProbedClip } from '@bevrin/media';

/** Frames that are kept, all clips together. */
const KEPT_BYTES = 256 * 2 ** 20;
/** A frame this far ahead is decoded to; one further is jumped to. */
const WORTH_GOING = 48;
/** One that steps back wants the frames before. */
const BEGIN_BEFORE = 2;
/** Decoded behind the one that was asked for, as far as they may be kept. */
const AHEAD = 6;
const AHEAD_BYTES = 64 * 2 ** 20;
/** Decoders that stay where they are: a clip beside another, or all settings of a trial side by side. */
const MOST_RUNS = 12;
/** A decoder that nobody asks is ended. */
const IDLE_MS = 20_000;

export interface StoredFrame {
  readonly layout: FrameLayout;
  readonly bytes: Buffer;
}

interface Going {
  readonly run: FrameRun;
  /** The frame that it is to reach. */
  goal: number;
  /** Settles when the goal is reached, or cannot be. */
  work: Promise<void>;
  idle: NodeJS.Timeout;
}

/**
 * Frames as they are stored. A decoder stays where it is between two questions, and goes on a little further than it was
 * asked: who steps through a clip, or stops it while it plays, finds the frame there.
 */
export class FrameRuns {
  private readonly kept = new LRUCache<string, Buffer>({
    maxSize: KEPT_BYTES,
    sizeCalculation: (frame) => frame.byteLength,
  });
  private readonly going = new Map<string, Going>();

  /**
   * @param key names the clip and the state of its file
   * @throws {ClipUnreadable} when the clip has no such frame
   */
  async frame(key: string, clip: ProbedClip, frame: number): Promise<StoredFrame> {
    const layout = layoutOf(clip);
    const known = this.kept.get(`${key} ${frame}`);
    if (known) {
      void this.goOn(key, clip, frame).catch(() => undefined);
      return { layout, bytes: known };
    }
    await this.reach(key, clip, frame);
    // Somebody else may have sent the decoder elsewhere meanwhile.
    if (!this.kept.has(`${key} ${frame}`) && frame < clip.facts.frames) await this.reach(key, clip, frame);
    const bytes = this.kept.get(`${key} ${frame}`);
    if (!bytes)
      throw new ClipUnreadable(
        clip.source.path,
        `there is no frame ${frame}; the last one is ${clip.facts.frames - 1}.`,
        'Choose another frame.',
      );
    void this.goOn(key, clip, frame).catch(() => undefined);
    return { layout, bytes };
  }

  stop(): void {
    for (const key of [...this.going.keys()]) this.end(key);
  }

  /** Decodes what will be asked for next. */
  private async goOn(key: string, clip: ProbedClip, frame: number): Promise<void> {
    const bytes = this.kept.get(`${key} ${frame}`)?.byteLength ?? AHEAD_BYTES;
    const ahead = Math.min(AHEAD, Math.floor(AHEAD_BYTES / bytes));
    const goal = Math.min(clip.facts.frames - 1, frame + ahead);
    const going = this.going.get(key);
    if (going && going.run.next <= goal && goal - going.run.next < WORTH_GOING)
      await this.reach(key, clip, goal);
  }

  private async reach(key: string, clip: ProbedClip, frame: number): Promise<void> {
    let going = this.going.get(key);
    if (!going || frame < going.run.next || frame > going.run.next + WORTH_GOING) {
      this.end(key);
      going = {
        run: new FrameRun(clip, Math.max(0, frame - BEGIN_BEFORE)),
        goal: -1,
        work: Promise.resolve(),
        idle: setTimeout(() => undefined, 0),
      };
      this.going.set(key, going);
      this.endOldest();
    }
    clearTimeout(going.idle);
    going.idle = setTimeout(() => this.end(key), IDLE_MS);
    going.idle.unref();
    const mine = going;
    mine.goal = Math.max(mine.goal, frame);
    mine.work = mine.work
      .then(() => this.advance(key, mine))
      .catch((error: unknown) => {
        // A decoder that has failed once is of no more use.
        if (this.going.get(key) === mine) this.end(key);
        throw error;
      });
    return mine.work;
  }

  private async advance(key: string, going: Going): Promise<void> {
    while (going.run.next <= going.goal) {
      const at = going.run.next;
      const bytes = await going.run.read();
      if (!bytes) return;
      this.kept.set(`${key} ${at}`, bytes);
    }
  }

  /** Ends decoders beyond those that may stay; one that is on its way to a frame is not cut off. */
  private endOldest(): void {
    for (const [key, { run, goal }] of this.going)
      if (this.going.size > MOST_RUNS && run.next > goal) this.end(key);
  }

  private end(key: string): void {
    const going = this.going.get(key);
    if (!going) return;
    clearTimeout(going.idle);
    this.going.delete(key);
    going.run.stop();
  }
}
