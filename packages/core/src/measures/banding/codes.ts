import { quantile } from '../../maths/robust.js';
import type { Plane } from '../../picture/frame.js';

const MOST_BARS = 512;
/** Codes about one that it is set against. */
const ABOUT = 6;
/** A code that is seen less than this share of what its neighbours are does not count as used. */
const USED = 0.08;
/** With fewer codes between the ends, nothing can be said. */
const LEAST_SPAN = 12;

/** How often each code of luma was seen. */
export class CodeCount {
  private readonly counts: Float64Array;

  constructor(private readonly bitDepth: number) {
    this.counts = new Float64Array(2 ** bitDepth);
  }

  take(samples: Plane['samples'], step: number): void {
    const { counts } = this;
    for (let i = 0; i < samples.length; i += step) counts[samples[i]]++;
  }

  /** The codes between which nearly all of the picture lies. */
  private ends(): { low: number; high: number } {
    let total = 0;
    for (const n of this.counts) total += n;
    let [sum, low, high] = [0, -1, 0];
    for (let code = 0; code < this.counts.length; code++) {
      sum += this.counts[code];
      if (low < 0 && sum >= 0.01 * total) low = code;
      if (sum <= 0.99 * total) high = code;
    }
    return { low: Math.max(0, low), high: Math.max(low, high) };
  }

  /**
   * Bits that the picture really uses: the depth of the file less what the gaps between used codes take away. A 10-bit
   * file that holds 8-bit codes has three gaps between any two used codes.
   */
  effectiveBits(): number {
    const { low, high } = this.ends();
    if (high - low < LEAST_SPAN) return this.bitDepth;
    const spread: number[] = [];
    for (let code = low; code <= high; code++) {
      const about = this.counts.subarray(Math.max(0, code - ABOUT), code + ABOUT + 1);
      spread.push(this.counts[code] > USED * quantile(about, 0.95) && this.counts[code] > 0 ? 1 : 0);
    }
    const used = spread.reduce((a, b) => a + b, 0) / spread.length;
    return used > 0.7 ? this.bitDepth : Math.max(1, this.bitDepth + Math.log2(used));
  }

  histogram(): { firstCode: number; counts: number[] } {
    const { low, high } = this.ends();
    return { firstCode: low, counts: [...this.counts.subarray(low, Math.min(high + 1, low + MOST_BARS))] };
  }
}
