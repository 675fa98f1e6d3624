import { ENOUGH } from '../../maths/enough.js';
import { isTooSmall, tooSmall } from '../../picture/size.js';
import { notMeasurable, type ClipFacts, type Reading, type Region } from '#terms';
import type { BandingValues } from './descriptor.js';
import { mean, median, quantile } from '../../maths/robust.js';
import type { Frame, Plane } from '../../picture/frame.js';
import { kernels } from '../../kernels/kernels.js';
import { lumaScale } from '../../picture/signal.js';
import type { Measure, MeasureOptions, RunningMeasure } from '../measure.js';
import { CodeCount } from './codes.js';
import { staircasesAlong, type Reduced, type Step } from './staircase.js';
import { disturbed, noticeableSteps } from './visibility.js';
import { rounded } from '../../maths/round.js';

export type BandingReading = Reading<BandingValues, Record<never, never>>;

/** Steps are looked for at about this width: a band is wide, and the eye does not look closer. */
const LOOKED_AT = 640;
/** Steps that grain has mixed are as wide as this many pixels more. */
const MIXED_FACTOR = 4;
/** A pixel belongs to a banded place when this share of its surroundings, this far about, lies on staircases. */
const AGREED = 0.45;
const ABOUT = 4;
/** Every so many lines are looked at. */
const LINE_STEP = 2;
/** How fast the index rises with the banded share of the picture. */
const AREA_RATE = 5;
/** and the faster, the higher the steps are above this, just noticeable differences: high steps lie far apart. */
const PLAIN_STEP = 6;
/** but no faster than this. */
const MOST_SPREAD = 2.5;
/** Red, green and blue step at different places: the plainer steps are those that are seen. */
const PLAINER_STEPS = 0.67;
const COLUMNS = 16;
const ROWS = 9;
const REGION_SHARE = 0.3;
/** Every so many samples are counted. */
const CODE_STEP = 7;
const MOST_STEPS_KEPT = 20_000;

/**
 * Banding: smooth gradients that are broken into steps one can see. Looks for staircases along rows and columns:
 * sharp steps of one height and one direction with flat, quiet plateaus between them; grain or dither above the step
 * hides it.
 *
 * Method: docs/measures/banding.md. Heights in % of range.
 */
export const banding: Measure<BandingReading> = {
  begin: (clip, _motion, options) => new RunningBanding(clip, options),
};

class RunningBanding implements RunningMeasure<BandingReading> {
  private readonly codes: CodeCount;
  private readonly areas: number[] = [];
  private readonly steps: Step[] = [];
  private readonly cells = new Float64Array(COLUMNS * ROWS);
  private last = -Infinity;
  private seen = 0;
  private readonly every: number;

  constructor(
    private readonly clip: ClipFacts,
    private readonly options: MeasureOptions,
  ) {
    this.codes = new CodeCount(clip.bitDepth);
    this.every = Math.max(1, Math.round(options.plan.bursts.count / ENOUGH));
  }

  take(frame: Frame): void {
    if (frame.index === this.last + 1) return;
    this.last = frame.index;
    // Steps stand still for seconds: a few frames, spread over the clip, tell.
    if (this.seen++ % this.every !== 0) return;
    const [plane] = frame.planes;
    if (isTooSmall(plane)) return;
    this.codes.take(plane.samples, CODE_STEP);
    const small = reduce(plane, lumaScale(this.clip));
    const { marked, seen } = this.mark(small);
    const { rowStep, mask } = this.options;
    let area = 0;
    for (let y = 0; y < small.height; y++)
      for (let x = 0; x < small.width; x++) {
        const i = y * small.width + x;
        if (!marked[i]) continue;
        const k = small.factor;
        if (!mask.empty && mask.covers(frame.index, x * k, y * k * rowStep)) continue;
        area++;
        const cell =
          Math.floor((y * ROWS) / small.height) * COLUMNS + Math.floor((x * COLUMNS) / small.width);
        this.cells[cell] += (COLUMNS * ROWS) / (small.width * small.height);
      }
    this.areas.push(area / (small.width * small.height));
    if (area > 0 && this.steps.length < MOST_STEPS_KEPT) for (const s of seen) this.steps.push(s);
  }

  /** Lays staircases of rows and columns over the picture, and keeps the places where neighbouring lines agree. */
  private mark(small: Reduced): { marked: Uint8Array; seen: Step[] } {
    const on = new Uint8Array(small.width * small.height);
    const seen = layOver(on, small, small, false);
    seen.push(...layOver(on, small, smaller(small, MIXED_FACTOR), true));
    return { marked: agreed(on, small.width, small.height), seen };
  }

  finish(): BandingReading {
    const { clip } = this;
    if (this.areas.length === 0) return notMeasurable(tooSmall(clip, 'to tell a gradient from its steps'));
    const area = mean(this.areas);
    const steps = area > 0 ? this.steps : [];
    const step = steps.length > 0 ? median(steps.map((s) => s.height)) : 0;
    const seen =
      steps.length > 0
        ? quantile(
            steps.map((s) => noticeableSteps(s.level / 100, s.height / 100)),
            PLAINER_STEPS,
          )
        : 0;
    const spread = AREA_RATE * area * Math.min(MOST_SPREAD, Math.max(1, seen / PLAIN_STEP));
    return {
      state: 'measured',
      reason: null,
      confidence: rounded(1 - Math.exp(-this.areas.length / 2), 3),
      values: {
        areaPct: rounded(100 * area, 3),
        stepPct: rounded(step, 4),
        index: rounded(100 * (1 - Math.exp(-spread)) * disturbed(seen), 2),
        effectiveBits: rounded(this.codes.effectiveBits(), 2),
        histogram: this.codes.histogram(),
      },
      series: {},
      regions: this.regions(),
    };
  }

  /** Banded cells of a grid, joined along rows. */
  private regions(): Region[] {
    const [w, h] = [this.clip.width / COLUMNS, this.clip.height / ROWS];
    const share = (cell: number): number => this.cells[cell] / this.areas.length;
    const regions: Region[] = [];
    for (let row = 0; row < ROWS; row++)
      for (let column = 0; column < COLUMNS; column++) {
        let end = column;
        let sum = 0;
        while (end < COLUMNS && share(row * COLUMNS + end) >= REGION_SHARE)
          sum += share(row * COLUMNS + end++);
        if (end === column) continue;
        regions.push({
          x: rounded(column * w, 1),
          y: rounded(row * h, 1),
          width: rounded((end - column) * w, 1),
          height: rounded(h, 1),
          startFrame: 0,
          endFrame: this.clip.frames - 1,
          strength: rounded(Math.min(1, sum / (end - column)), 3),
        });
        column = end;
      }
    return regions;
  }
}

/**
 * Marks what staircases cover, along rows and along columns.
 * @param on of the picture that is marked
 * @param looked that picture, or a smaller one of it
 * @returns their steps
 */
const layOver = (
  on: Uint8Array,
  { width, height, factor }: Reduced,
  looked: Reduced,
  mixed: boolean,
): Step[] => {
  const seen: Step[] = [];
  const k = looked.factor / factor;
  const fill = (x0: number, x1: number, y0: number, y1: number): void => {
    for (let y = y0 * k; y < Math.min(height, y1 * k); y++)
      on.fill(1, y * width + x0 * k, y * width + Math.min(width, x1 * k));
  };
  for (let y = 0; y < looked.height; y += LINE_STEP)
    for (const { from, to, steps } of staircasesAlong(looked, y * looked.width, 1, looked.width, mixed)) {
      fill(from, to + 1, y, y + LINE_STEP);
      seen.push(...steps);
    }
  for (let x = 0; x < looked.width; x += LINE_STEP)
    for (const { from, to, steps } of staircasesAlong(looked, x, looked.width, looked.height, mixed)) {
      fill(x, x + LINE_STEP, from, to + 1);
      seen.push(...steps);
    }
  return seen;
};

/** Area-averages a reduced picture further; its restlessness stays that of the full size. */
const smaller = (from: Reduced, k: number): Reduced => {
  const [width, height] = [Math.floor(from.width / k), Math.floor(from.height / k)];
  const averaged = (values: Float32Array): Float32Array => {
    const out = new Float32Array(width * height);
    for (let y = 0, o = 0; y < height; y++)
      for (let x = 0; x < width; x++, o++) {
        let sum = 0;
        for (let v = 0; v < k; v++)
          for (let i = (y * k + v) * from.width + x * k, end = i + k; i < end; i++) sum += values[i];
        out[o] = sum / (k * k);
      }
    return out;
  };
  return {
    width,
    height,
    levelPct: averaged(from.levelPct),
    restlessPct: averaged(from.restlessPct),
    factor: from.factor * k,
  };
};

/** Area-averages a plane; about 6 operations per pixel. */
const reduce = (
  { width: fullWidth, height: fullHeight, samples }: Plane,
  { black, span }: { black: number; span: number },
): Reduced => {
  const factor = Math.max(1, Math.round(fullWidth / LOOKED_AT));
  const width = Math.floor((fullWidth - 1) / factor);
  const height = Math.floor(fullHeight / factor);
  const count = width * height;
  const row = 2 * (factor * width + 8);
  kernels.reserve(samples.length / 2 + 1 + 2 * count + row, 4);
  const from = kernels.putWords(samples);
  const [sums, differences, work] = [kernels.room(count), kernels.room(count), kernels.room(row)];
  kernels.run.squareSums(from, fullWidth, width, height, factor, sums, differences, work);
  const k = 100 / span / (factor * factor);
  const under = (100 * black) / span;
  const [summed, apart] = [kernels.viewWholes(sums, count), kernels.viewWholes(differences, count)];
  const [levelPct, restlessPct] = [new Float32Array(count), new Float32Array(count)];
  for (let o = 0; o < count; o++) {
    levelPct[o] = summed[o] * k - under;
    restlessPct[o] = apart[o] * k;
  }
  return { width, height, levelPct, restlessPct, factor };
};

/** Keeps a pixel where enough of its surroundings are on, by running sums. */
const agreed = (on: Uint8Array, width: number, height: number): Uint8Array => {
  const sums = new Int32Array((width + 1) * (height + 1));
  for (let y = 0; y < height; y++)
    for (let x = 0, row = 0; x < width; x++) {
      row += on[y * width + x];
      sums[(y + 1) * (width + 1) + x + 1] = sums[y * (width + 1) + x + 1] + row;
    }
  const out = new Uint8Array(on.length);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      if (!on[y * width + x]) continue;
      const [x0, x1] = [Math.max(0, x - ABOUT), Math.min(width, x + ABOUT + 1)];
      const [y0, y1] = [Math.max(0, y - ABOUT), Math.min(height, y + ABOUT + 1)];
      const w = width + 1;
      const inside = sums[y1 * w + x1] - sums[y0 * w + x1] - sums[y1 * w + x0] + sums[y0 * w + x0];
      if (inside >= AGREED * (x1 - x0) * (y1 - y0)) out[y * width + x] = 1;
    }
  return out;
};
