import type { ClipFacts } from '#terms';
import { median, quantile } from '../../maths/robust.js';
import type { Plane } from '../../picture/frame.js';
import { lumaScale } from '../../picture/signal.js';
import { BLOCK, type FlatBlock } from './pair.js';

/** Correlation of two frames' coarse pictures above which the scene stood still between them. */
const STOOD_STILL = 0.97;
const CELL = 32;

/**
 * Noise that stays on the sensor. Two frames far apart, between which the scene moved, share nothing at the same
 * place but what belongs to the sensor: the covariance of their fine detail in flat blocks is its power. Where the
 * scene stood still its texture cannot be told from fixed noise, and nothing is claimed.
 */
export class FixedPattern {
  private reference: { plane: Plane; coarse: Float64Array; flat: Set<string> } | null = null;
  private readonly covariances: number[] = [];
  private readonly floors: number[] = [];

  constructor(private readonly facts: ClipFacts) {}

  take(plane: Plane, blocks: readonly FlatBlock[]): void {
    const flat = new Set(blocks.map((b) => `${b.x},${b.y}`));
    const coarse = coarsePicture(plane);
    const k = 100 / lumaScale(this.facts).span;
    if (!this.reference) {
      this.reference = { plane: { ...plane, samples: plane.samples.slice() }, coarse, flat };
      return;
    }
    const both = blocks.filter((b) => this.reference!.flat.has(`${b.x},${b.y}`));
    if (both.length < 12) return;
    const shared = both.map((b) => k * k * covariance(plane, this.reference!.plane, b.x, b.y));
    if (correlation(coarse, this.reference.coarse) < STOOD_STILL) this.covariances.push(trimmedMean(shared));
    else this.floors.push(quantile(shared, 0.1));
  }

  /** Power in (% of range)²; 0 where none was found or the scene never moved. */
  power(): number {
    return this.covariances.length < 3 ? 0 : Math.max(0, median(this.covariances));
  }

  /** Power of the fine detail that stays put in a scene that stood still: texture or fixed noise, not known which. */
  stillFloor(): number {
    return this.floors.length === 0 ? 0 : Math.max(0, median(this.floors));
  }
}

const trimmedMean = (values: readonly number[]): number => {
  const low = quantile(values, 0.1);
  const high = quantile(values, 0.9);
  const kept = values.filter((v) => v >= low && v <= high);
  return kept.reduce((s, v) => s + v, 0) / kept.length;
};

/** Horizontal and vertical second differences, scaled so that white noise keeps its power. */
const SECOND_DIFFERENCE_GAIN = 20;

const covariance = (a: Plane, b: Plane, x: number, y: number): number => {
  const fine = (p: Plane, i: number): number =>
    4 * p.samples[i] - p.samples[i - 1] - p.samples[i + 1] - p.samples[i - p.width] - p.samples[i + p.width];
  let sum = 0;
  for (let r = 0; r < BLOCK; r++)
    for (let c = 0; c < BLOCK; c++) {
      const i = (y + r) * a.width + x + c;
      sum += fine(a, i) * fine(b, i);
    }
  return sum / (BLOCK * BLOCK * SECOND_DIFFERENCE_GAIN);
};

const coarsePicture = (plane: Plane): Float64Array => {
  const columns = Math.max(1, Math.floor(plane.width / CELL));
  const rows = Math.max(1, Math.floor(plane.height / CELL));
  const cells = new Float64Array(columns * rows);
  for (let r = 0; r < rows; r++)
    for (let c = 0; c < columns; c++) {
      let sum = 0;
      for (let y = 0; y < CELL; y += 4)
        for (let x = 0; x < CELL; x += 4)
          sum +=
            plane.samples[Math.min(plane.samples.length - 1, (r * CELL + y) * plane.width + c * CELL + x)];
      cells[r * columns + c] = sum;
    }
  const mean = cells.reduce((s, v) => s + v, 0) / cells.length;
  return cells.map((v) => v - mean);
};

const correlation = (a: Float64Array, b: Float64Array): number => {
  let ab = 0;
  let aa = 1e-9;
  let bb = 1e-9;
  for (let i = 0; i < a.length; i++) {
    ab += a[i] * b[i];
    aa += a[i] * a[i];
    bb += b[i] * b[i];
  }
  return ab / Math.sqrt(aa * bb);
};
