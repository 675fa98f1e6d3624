import type { Plane } from '../../picture/frame.js';

/**
 * Halves planes for a look at wide patterns. Weights 1 3 3 1 each way: what is as fine as threads is gone before it could
 * alias (below a hundredth from 0.43 cycles a pixel on), wide patterns stay. About 5 operations per pixel of the whole.
 */
export class Halver {
  private rows = new Float32Array(0);

  /** One row; the samples at its ends stand for those beyond. */
  private halfRow(samples: Plane['samples'], from: number, width: number, to: number, w: number): void {
    const { rows } = this;
    const last = from + width - 1;
    const at = (i: number): number => samples[Math.min(last, Math.max(from, i))];
    for (let x = 1, i = from + 2; x < w - 1; x++, i += 2)
      rows[to + x] = (samples[i - 1] + 3 * (samples[i] + samples[i + 1]) + samples[i + 2]) / 8;
    for (const x of [0, w - 1]) {
      const i = from + 2 * x;
      rows[to + x] = (at(i - 1) + 3 * (at(i) + at(i + 1)) + at(i + 2)) / 8;
    }
  }

  /** @returns a plane of half the size, rounded down, in codes; a copy of its own */
  half({ width, height, samples }: Plane): Plane {
    const [w, h] = [Math.max(1, width >> 1), Math.max(1, height >> 1)];
    if (this.rows.length < w * height) this.rows = new Float32Array(w * height);
    const { rows } = this;
    for (let y = 0; y < height; y++) this.halfRow(samples, y * width, width, y * w, w);
    const out = new Uint16Array(w * h);
    for (let y = 0; y < h; y++) {
      const at = (v: number): number => Math.min(height - 1, Math.max(0, v)) * w;
      const [a, b, c, d] = [at(2 * y - 1), at(2 * y), at(2 * y + 1), at(2 * y + 2)];
      for (let x = 0; x < w; x++)
        out[y * w + x] = FINER * ((rows[a + x] + 3 * (rows[b + x] + rows[c + x]) + rows[d + x]) / 8) + 0.5;
    }
    return { width: w, height: h, samples: out };
  }
}

/** Averages are kept this much finer than codes. */
export const FINER = 8;
