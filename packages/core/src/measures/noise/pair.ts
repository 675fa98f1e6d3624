import { ENOUGH } from '../../maths/enough.js';
import type { ClipFacts } from '#terms';
import { median, quantile } from '../../maths/robust.js';
import { cameraBetween } from '../../motion/between.js';
import { carry, type Similarity } from '../../motion/similarity.js';
import { constantOf, kernels } from '../../kernels/kernels.js';
import type { Plane } from '../../picture/frame.js';
import { halve } from '../../picture/pyramid.js';
import { lumaScale } from '../../picture/signal.js';

/** Side of a block of luma, pixels. */
export const BLOCK = constantOf('BLOCK');
const CELLS = BLOCK / constantOf('CELL');
/** Kept away from the edge, so that the resampling filter has its neighbours. */
export const MARGIN = 6;
/** Blocks whose smoothed gradient is in the lowest share of all are flat enough to show noise. */
const FLAT_SHARE = 0.15;
/** A level band offers its flattest blocks too, as long as they are no busier than this share of all. */
const FLAT_WITHIN_LEVEL = 0.25;
const NOT_BUSIER_THAN = 0.4;
/** A block with more pixels than this at the ends of the range is clipped. */
const CLIPPED_SHARE = 0.01;
/** Of a picture with more pixels, blocks of one in so many columns are looked at, another one in each row; at most so far apart. */
const ENOUGH_PIXELS = 5e5;
const MOST_SPREAD = 6;

/** Bands of signal level in which noise is told apart, from black to white. */
export const LEVEL_BANDS = 20;

/** A flat block of the first frame and where its picture lies in the second. */
export interface FlatBlock {
  readonly x: number;
  readonly y: number;
  /** Mean level, % of range. */
  readonly levelPct: number;
  /** Top left corner in the second frame, whole pixels, and what is left over (0–1). */
  readonly toX: number;
  readonly toY: number;
  readonly fractionX: number;
  readonly fractionY: number;
  /** Light of the second frame over the first, one value for each row of the block. */
  readonly gains: Float64Array;
}

/** Blocks of a pair of frames that are flat enough to tell noise by. */
export interface FlatBlocks {
  readonly blocks: readonly FlatBlock[];
  /** How often each level band occurs in the picture, flat or not. */
  readonly levels: Float64Array;
  readonly motion: Similarity;
  /** Light of the second frame over the first, the whole picture's median. */
  readonly gain: number;
}

/** The motion between two full-size frames, found at a half of their size or less. */
export const motionBetween = (first: Plane, second: Plane): { motion: Similarity; sure: boolean } => {
  const { motion, sure } = cameraBetween(halve(first), halve(second));
  return { motion: { ...motion, dx: 2 * motion.dx, dy: 2 * motion.dy }, sure };
};

interface Candidate {
  block: Omit<FlatBlock, 'gains'>;
  /** Light of the second frame over the first, by row. */
  ratios: Float64Array;
  /** Smoothed gradient of both frames together: independent of their difference, so the choice does not bend the reading. */
  gradient: number;
}

/**
 * Chooses the flat blocks of a registered pair. About 3 operations per pixel of each frame.
 * @param motion from the first frame to the second, clip pixels
 */
/** @param all whether every block is taken, because a technician drew where to look */
export const flatBlocks = (
  first: Plane,
  second: Plane,
  motion: Similarity,
  facts: ClipFacts,
  all = false,
): FlatBlocks => {
  const { black, span, top } = lumaScale(facts);
  const levels = new Float64Array(LEVEL_BANDS);
  const candidates: Candidate[] = [];
  const clipLow = facts.range === 'limited' ? black : 0;
  const clipHigh = facts.range === 'limited' ? black + span : top;
  const sumsAt = blockReader(first, second, clipLow, clipHigh);
  const zero = BLOCK * (black - PEDESTAL * span);
  const every = Math.round((first.width * first.height) / ENOUGH_PIXELS);
  const step = BLOCK * (all ? 1 : Math.max(1, Math.min(MOST_SPREAD, every)));
  for (let y = MARGIN, row = 0; y + BLOCK + MARGIN <= first.height; y += BLOCK, row++)
    for (let x = MARGIN + ((row * BLOCK) % step); x + BLOCK + MARGIN <= first.width; x += step) {
      const middle = carry(motion, x + BLOCK / 2, y + BLOCK / 2, first.width, first.height);
      const toX = middle.x - BLOCK / 2;
      const toY = middle.y - BLOCK / 2;
      const [ix, iy] = [Math.floor(toX), Math.floor(toY)];
      if (
        ix < MARGIN ||
        iy < MARGIN ||
        ix + BLOCK + MARGIN > second.width ||
        iy + BLOCK + MARGIN > second.height
      )
        continue;
      const sums = sumsAt(x, y, Math.round(toX), Math.round(toY));
      const levelPct = (100 * (sums.level - black)) / span;
      levels[bandOf(levelPct)]++;
      if (sums.clipped > CLIPPED_SHARE * 2 * BLOCK * BLOCK) continue;
      candidates.push({
        block: { x, y, levelPct, toX: ix, toY: iy, fractionX: toX - ix, fractionY: toY - iy },
        ratios: ratiosOf(sums, zero),
        gradient: gradientOf(sums.cells),
      });
    }
  const gains = rowGains(candidates, first.height);
  const blocks = (all ? candidates : chooseFlat(candidates)).map(({ block }) => ({
    ...block,
    gains: gains.rows.subarray(block.y, block.y + BLOCK),
  }));
  return { blocks, levels, motion, gain: gains.whole };
};

/**
 * The band of a signal level.
 * @param levelPct % of range
 * @returns 0 to `LEVEL_BANDS` − 1
 */
const bandOf = (levelPct: number): number =>
  Math.max(0, Math.min(LEVEL_BANDS - 1, Math.floor((levelPct / 100) * LEVEL_BANDS)));

/** Things of a picture, those of each level band together. */
export const byBand = <T>(all: readonly T[], levelPct: (one: T) => number): T[][] => {
  const bands = Array.from({ length: LEVEL_BANDS }, (): T[] => []);
  for (const one of all) bands[bandOf(levelPct(one))].push(one);
  return bands;
};

/** What a block shows in both frames; written over by the next one. */
interface BlockSums {
  /** Mean of the first frame, codes. */
  level: number;
  clipped: number;
  /** Sums of the rows in the first and in the second frame. */
  readonly before: Float64Array;
  readonly after: Float64Array;
  /** Sums of both frames over small cells. */
  readonly cells: Float64Array;
}

/** Reads blocks of a pair of frames at a place of each. */
const blockReader = (
  first: Plane,
  second: Plane,
  low: number,
  high: number,
): ((x: number, y: number, u: number, v: number) => BlockSums) => {
  const count = 1 + 2 * BLOCK + CELLS * CELLS;
  kernels.reserve(first.samples.length + count, 3);
  const [a, b] = [kernels.putWords(first.samples), kernels.putWords(second.samples)];
  const out = kernels.room(count);
  const found = kernels.viewWholes(out, count);
  const [before, after] = [new Float64Array(BLOCK), new Float64Array(BLOCK)];
  const sums: BlockSums = { level: 0, clipped: 0, before, after, cells: new Float64Array(CELLS * CELLS) };
  return (x, y, u, v) => {
    const [p, q] = [a + 2 * (y * first.width + x), b + 2 * (v * second.width + u)];
    kernels.run.blockSums(p, first.width, q, second.width, low, high, out);
    let level = 0;
    for (let r = 0; r < BLOCK; r++) {
      before[r] = found[1 + r];
      after[r] = found[1 + BLOCK + r];
      level += before[r];
    }
    for (let k = 0; k < CELLS * CELLS; k++) sums.cells[k] = found[1 + 2 * BLOCK + k];
    sums.level = level / (BLOCK * BLOCK);
    sums.clipped = found[0];
    return sums;
  };
};

const gradientOf = (cells: Float64Array): number => {
  let sum = 0;
  for (let r = 0; r < CELLS; r++)
    for (let c = 0; c < CELLS; c++) {
      const i = r * CELLS + c;
      if (c + 1 < CELLS) sum += (cells[i + 1] - cells[i]) ** 2;
      if (r + 1 < CELLS) sum += (cells[i + CELLS] - cells[i]) ** 2;
    }
  return sum;
};

const chooseFlat = (candidates: readonly Candidate[]): Candidate[] => {
  const all = candidates.map((c) => c.gradient);
  const flat = quantile(all, FLAT_SHARE);
  const busy = quantile(all, NOT_BUSIER_THAN);
  const limits = byBand(candidates, (c) => c.block.levelPct).map((band) => {
    const gradients = band.map((c) => c.gradient);
    return Math.min(busy, Math.max(flat, quantile(gradients, FLAT_WITHIN_LEVEL)));
  });
  return candidates.filter((c) => c.gradient <= limits[bandOf(c.block.levelPct)]);
};

/** Added to levels before ratios are taken, fraction of range: near black a ratio means nothing. */
const PEDESTAL = 0.02;

/** Light of the second frame over the first by row, above a level that stands for nothing. */
const ratiosOf = ({ before, after }: BlockSums, zero: number): Float64Array => {
  const ratios = new Float64Array(BLOCK);
  for (let r = 0; r < BLOCK; r++) ratios[r] = before[r] > zero ? (after[r] - zero) / (before[r] - zero) : 1;
  return ratios;
};

/** Light of the second frame over the first for every row: flicker and bars are not noise. */
const rowGains = (
  candidates: readonly Candidate[],
  height: number,
): { rows: Float64Array; whole: number } => {
  const abreast = new Map<number, Candidate[]>();
  for (const c of candidates) {
    const row = abreast.get(c.block.y);
    if (row) row.push(c);
    else abreast.set(c.block.y, [c]);
  }
  const whole = candidates.length > 0 ? median(candidates.map((c) => median(c.ratios))) : 1;
  const rows = new Float64Array(height).fill(whole);
  for (const [y, row] of abreast)
    if (row.length >= ENOUGH)
      for (let r = 0; r < BLOCK; r++) rows[y + r] = median(row.map((c) => c.ratios[r]));
  return { rows: smoothed(rows), whole };
};

/** Mean over five rows: light changes smoothly down the picture, the noise of a row's median does not. */
const smoothed = (rows: Float64Array): Float64Array =>
  rows.map((_, y) => {
    const near = rows.subarray(Math.max(0, y - 2), y + 3);
    return near.reduce((sum, v) => sum + v, 0) / near.length;
  });

/** Whether two planes hold the same frame, sample for sample: then their difference tells nothing. */
export const isSameFrame = (first: Plane, second: Plane): boolean => {
  for (let i = 0; i < first.samples.length; i += 97) if (first.samples[i] !== second.samples[i]) return false;
  return true;
};
