import { notMeasurable, type ClipFacts, type Reading } from '#terms';
import type { MoireValues } from './descriptor.js';
import { PairSpectrum } from '../../maths/fft2.js';
import { mean, median } from '../../maths/robust.js';
import type { MotionAnalysis } from '../../motion/motion-analysis.js';
import type { Frame, Plane } from '../../picture/frame.js';
import { chromaScale, lumaScale } from '../../picture/signal.js';
import type { Measure, MeasureOptions, RunningMeasure } from '../measure.js';
import { aliasIn, type PatternSample, type Alias } from './alias.js';
import { amplitudeAt, peakOf } from './peak.js';
import { RegularityCheck } from './regular.js';
import { rounded } from '../../maths/round.js';

export type MoireReading = Reading<MoireValues, Record<never, never>>;

/** Side of a window, luma pixels, and how many of them are looked at closely in one pair of frames. */
const SIDE = 64;
const MOST_CLOSE_LOOKS = 110;
/** A prime: multiples of it visit every window once. */
const SCATTER = 7919;
/** Pairs of frames that are looked at; more tell nothing new. */
const MOST_PAIRS = 12;
/** A pattern fainter than this is not noticed, % of range. */
const LEAST_LUMA_PCT = 0.5;
const LEAST_COLOUR_PCT = 0.5;
/** Colour with a luma pattern of less than this share beside it belongs to no cloth. */
const NO_LUMA = 0.35;
/** How fast the index rises: % of the picture that makes it plain, and amplitude, % of range, that counts in full. */
const PLAIN_AREA_PCT = 3.5;
const PLAIN_AMPLITUDE_PCT = 2;

/**
 * Moiré: regular patterns that the sampling made up. A pattern of the scene moves with it; an alias moves as the fine
 * threads do that it stands for, many times as fast or backwards; and false colour has no luma pattern beside it.
 *
 * Method: docs/measures/moire.md. Clip pixels.
 */
export const moire: Measure<MoireReading> = {
  begin: (clip, motion, options) => new RunningMoire(clip, motion, options),
};

class RunningMoire implements RunningMeasure<MoireReading> {
  private before: { index: number; planes: Plane[] } | null = null;
  private readonly samples = new Map<string, PatternSample[]>();
  private pairs = 0;
  private windows = 0;
  private readonly everyPair: number;
  private seen = 0;
  private skipped = -1;
  private readonly checks = new Map<number, RegularityCheck>();
  private readonly spectra = new Map<number, PairSpectrum>();

  constructor(
    private readonly clip: ClipFacts,
    private readonly motion: MotionAnalysis,
    private readonly options: MeasureOptions,
  ) {
    this.everyPair = Math.max(1, Math.round(options.plan.bursts.count / MOST_PAIRS));
  }

  take(frame: Frame): void {
    const { before } = this;
    if (before?.index === frame.index - 1) {
      this.pair(before.planes, frame.planes, frame.index);
      this.before = null;
      return;
    }
    if (this.skipped === frame.index - 1) {
      this.skipped = -1;
      return;
    }
    // Of a short clip every pair is there; a few spread over it are enough.
    const wanted = this.seen++ % this.everyPair === 0 && this.pairs < MOST_PAIRS;
    if (!wanted) this.skipped = frame.index;
    this.before = wanted
      ? { index: frame.index, planes: frame.planes.map((p) => ({ ...p, samples: p.samples.slice() })) }
      : null;
  }

  private pair(first: readonly Plane[], second: readonly Plane[], index: number): void {
    const [luma] = first;
    const columns = Math.floor(luma.width / SIDE);
    const rows = Math.floor(luma.height / SIDE);
    this.windows = columns * rows;
    if (this.windows === 0) return;
    this.pairs++;
    const offset = { x: (luma.width - columns * SIDE) >> 1, y: (luma.height - rows * SIDE) >> 1 };
    // Chroma samples must lie at the same places as the window's edges.
    offset.x -= offset.x % 2;
    offset.y -= offset.y % 2;
    const coloured = first.length === 3 && this.clip.matrix !== 'rgb';
    let looks = 0;
    // All over the picture and in the same order every time: boards at the top must not use up what is left for below.
    for (let k = 0; k < this.windows && looks < MOST_CLOSE_LOOKS; k++) {
      const at = (k * SCATTER) % this.windows;
      const [x, y] = [offset.x + (at % columns) * SIDE, offset.y + Math.floor(at / columns) * SIDE];
      const { mask, rowStep } = this.options;
      if (mask.touches(index, x, y * rowStep, SIDE, SIDE * rowStep)) continue;
      const planes = coloured ? [0, 1, 2] : [0];
      const regular = planes.filter((p) => this.looksRegular(first, p, x, y));
      if (regular.length === 0) continue;
      looks++;
      for (const p of regular) this.look(first, second, p, x, y, index);
    }
  }

  private shape(planes: readonly Plane[], p: number): { kx: number; ky: number; side: number; span: number } {
    const kx = Math.round(planes[0].width / planes[p].width);
    const ky = Math.round(planes[0].height / planes[p].height);
    const { span } = p === 0 ? lumaScale(this.clip) : chromaScale(this.clip);
    return { kx, ky, side: SIDE / Math.max(kx, ky), span };
  }

  private looksRegular(planes: readonly Plane[], p: number, x: number, y: number): boolean {
    const { kx, ky, side, span } = this.shape(planes, p);
    const check = this.checks.get(side) ?? new RegularityCheck(side);
    this.checks.set(side, check);
    const least = (p === 0 ? LEAST_LUMA_PCT : LEAST_COLOUR_PCT) / 100;
    return check.looksRegular(planes[p], Math.floor(x / kx), Math.floor(y / ky), least * span * 0.7);
  }

  private spectrumAt(
    first: readonly Plane[],
    second: readonly Plane[],
    p: number,
    x: number,
    y: number,
  ): PairSpectrum {
    const { kx, ky, side, span } = this.shape(first, p);
    const spectrum = this.spectra.get(side) ?? new PairSpectrum(side);
    this.spectra.set(side, spectrum);
    const { width } = first[p];
    const start = Math.floor(y / ky) * width + Math.floor(x / kx);
    const [a, b] = [first[p].samples, second[p].samples];
    const k = 100 / span;
    spectrum.take(
      (u, v) => k * a[start + v * width + u],
      (u, v) => k * b[start + v * width + u],
    );
    return spectrum;
  }

  private look(
    first: readonly Plane[],
    second: readonly Plane[],
    p: number,
    x: number,
    y: number,
    index: number,
  ): void {
    const { kx, ky, side } = this.shape(first, p);
    const peak = peakOf(this.spectrumAt(first, second, p, x, y));
    if (!peak || peak.amplitude < (p === 0 ? LEAST_LUMA_PCT : LEAST_COLOUR_PCT)) return;
    let beside = 1;
    if (p > 0) {
      // The same fineness in luma: its window has more samples a side, so its bins lie the same number of cycles apart.
      const scale = SIDE / side;
      const luma = this.spectrumAt(first, second, 0, x, y);
      const v = peak.bin.v > side / 2 ? peak.bin.v - side : peak.bin.v;
      const at = (k: number, factor: number): number =>
        ((Math.round((k * scale) / factor) % SIDE) + SIDE) % SIDE;
      beside = amplitudeAt(luma, at(peak.bin.u, kx), at(v, ky)) / peak.amplitude;
    }
    const key = `${x},${y},${p === 0 ? 'luma' : 'colour'}`;
    const list = this.samples.get(key) ?? [];
    list.push({
      frame: index,
      x,
      y,
      // Cycles per luma pixel.
      fx: peak.fx / kx,
      fy: peak.fy / ky,
      amplitude: peak.amplitude,
      turned: peak.turned,
      lumaless: beside < NO_LUMA,
    });
    this.samples.set(key, list);
  }

  finish(): MoireReading {
    const { clip, motion } = this;
    const { rowStep } = this.options;
    if (this.windows === 0)
      return notMeasurable(
        `The picture is too small (${clip.width}×${clip.height}) to tell a pattern from a single edge.`,
      );
    if (this.pairs === 0)
      return notMeasurable('No two neighbouring frames could be read: a pattern is told by how it moves.');
    const steps = motion.steps();
    const judged: (Alias & { x: number; y: number; kind: 'luma' | 'colour' })[] = [];
    let undecided = 0;
    for (const [key, list] of this.samples) {
      const kind = key.endsWith('luma') ? 'luma' : 'colour';
      const verdict = aliasIn(list, steps, kind, this.pairs, rowStep);
      if (verdict === 'undecided') undecided++;
      else if (verdict !== 'scene') judged.push({ ...verdict, x: list[0].x, y: list[0].y, kind });
    }
    const patterns = joined(judged, clip, rowStep);
    const places = new Set(judged.map((j) => `${j.x},${j.y}`));
    const areaPct = (100 * places.size * SIDE * SIDE * rowStep) / (clip.width * clip.height);
    const strength =
      judged.length > 0 ? Math.min(1, median(judged.map((j) => j.amplitude)) / PLAIN_AMPLITUDE_PCT) : 0;
    const moved = mean(steps.map((s) => (s && Math.hypot(s.dx, s.dy) > 0.1 ? 1 : 0)));
    return {
      state: 'measured',
      reason: null,
      confidence: rounded(
        (1 - Math.exp(-this.pairs / 3)) * (0.35 + 0.65 * Math.min(1, 2 * moved)) * (undecided > 0 ? 0.6 : 1),
        3,
      ),
      values: {
        index: rounded(100 * (1 - Math.exp(-(areaPct / PLAIN_AREA_PCT) * strength)), 2),
        areaPct: rounded(Math.min(100, areaPct), 3),
        patternCount: patterns.length,
        patterns,
      },
      series: {},
      regions: patterns.map(({ x, y, width, height, startFrame, endFrame, strength }) => ({
        x,
        y,
        width,
        height,
        startFrame,
        endFrame,
        strength,
      })),
    };
  }
}

/** Joins neighbouring windows of one kind to one pattern. */
const joined = (
  judged: readonly (Alias & { x: number; y: number; kind: 'luma' | 'colour' })[],
  clip: ClipFacts,
  rowStep: number,
): MoireValues['patterns'] => {
  const left = new Set(judged);
  const patterns: MoireValues['patterns'] = [];
  for (const seed of judged) {
    if (!left.delete(seed)) continue;
    const group = [seed];
    for (const member of group)
      for (const other of left)
        if (
          other.kind === member.kind &&
          Math.abs(other.x - member.x) <= SIDE &&
          Math.abs(other.y - member.y) <= SIDE
        ) {
          left.delete(other);
          group.push(other);
        }
    const [x0, y0] = [Math.min(...group.map((g) => g.x)), Math.min(...group.map((g) => g.y))];
    const [x1, y1] = [Math.max(...group.map((g) => g.x)) + SIDE, Math.max(...group.map((g) => g.y)) + SIDE];
    const crawls = group.map((g) => g.crawlPxPerFrame).filter((c) => c !== null);
    patterns.push({
      x: x0,
      y: y0 * rowStep,
      width: x1 - x0,
      height: (y1 - y0) * rowStep,
      startFrame: 0,
      endFrame: clip.frames - 1,
      strength: rounded(median(group.map((g) => g.amplitude)), 3),
      periodPx: rounded(median(group.map((g) => g.periodPx)), 2),
      kind: seed.kind,
      crawlPxPerFrame: crawls.length > 0 ? rounded(median(crawls), 3) : null,
    });
  }
  return patterns.sort((a, b) => b.width * b.height * b.strength - a.width * a.height * a.strength);
};
