import type { Picture } from '@bevrin/core';
import { planesOf } from '../feed.js';
import type { ProbedClip } from '../probe.js';
import { readPictures } from '../trial/pictures.js';

/** A clip whose frames take no more is read once and kept: a decoder takes longer to start than such a clip to read. */
const KEPT_BYTES = 320 * 2 ** 20;

/** Full-size frames of a clip, by their place: all of a small clip at once, some of a large one when they are asked for. */
export class Shelf {
  private all: Promise<Picture[]> | null = null;
  private readonly fits: boolean;

  constructor(
    readonly clip: ProbedClip,
    private readonly signal: AbortSignal | undefined,
  ) {
    const { facts, format } = clip;
    const bytes = planesOf(facts.width, facts.height, format).reduce(
      (sum, p) => sum + p.width * p.height * p.bytes,
      0,
    );
    this.fits = bytes * facts.frames <= KEPT_BYTES;
  }

  /**
   * @returns fewer than `count` where the clip ends before
   * @throws {ClipUnreadable} {@link DecoderStopped}
   */
  async frames(first: number, count: number): Promise<Picture[]> {
    if (!this.fits) return readPictures(this.clip, first, count, this.signal);
    this.all ??= readPictures(this.clip, 0, this.clip.facts.frames, this.signal);
    return (await this.all).slice(first, first + count);
  }
}
