import { isTooSmall } from './size.js';
import type { ClipFacts } from '#terms';
import { median } from '../maths/robust.js';
import type { Frame } from './frame.js';
import { lumaScale } from './signal.js';

/** Side of the blocks that most codecs of delivery compress in. */
const BLOCK = 8;
/** A step higher than this (fraction of range) is an edge of the scene. */
const EDGE = 0.06;
const LINE_STEP = 6;
const MOST_FRAMES = 24;

/** How much steeper a picture is at the edges of 8×8 blocks than between them: what hard compression leaves. Looks at a few rows. */
export class BlockEdges {
  private readonly ratios: number[] = [];
  private last = -Infinity;

  constructor(private readonly clip: Pick<ClipFacts, 'bitDepth' | 'range'>) {}

  take({ index, planes: [{ width, height, samples }] }: Frame): void {
    if (index === this.last + 1 || this.ratios.length >= MOST_FRAMES || isTooSmall({ width, height })) return;
    this.last = index;
    const most = EDGE * lumaScale(this.clip).span;
    const sums = new Float64Array(BLOCK);
    const counts = new Float64Array(BLOCK);
    for (let y = 2; y < height; y += LINE_STEP)
      for (let x = BLOCK, i = y * width + x; x < width - BLOCK; x++, i++) {
        const step = Math.abs(samples[i] - samples[i - 1]);
        if (step > most) continue;
        sums[x % BLOCK] += step;
        counts[x % BLOCK]++;
      }
    const means = sums.map((s, k) => s / Math.max(1, counts[k]));
    const between = (means[2] + means[3] + means[4] + means[5] + means[6]) / 5;
    // A picture without detail has no steps between blocks to set theirs against.
    if (between > 0.02) this.ratios.push(means[0] / between);
  }

  /** 1 where there are no blocks; `null` where nothing could be compared. */
  ratio(): number | null {
    return this.ratios.length === 0 ? null : Math.round(1000 * median(this.ratios)) / 1000;
  }
}
