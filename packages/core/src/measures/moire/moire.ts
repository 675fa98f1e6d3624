import { tooSmall } from '../../picture/size.js';
import { ENOUGH, SEVERAL } from '../../maths/enough.js';
import { notMeasurable, type ClipFacts, type Reading } from '#terms';
import type { MoireValues } from './descriptor.js';
import { PairSpectrum } from '../../maths/fft2.js';
import { mean, median } from '../../maths/robust.js';
import type { MotionAnalysis } from '../../motion/motion-analysis.js';
import type { Frame, Plane } from '../../picture/frame.js';
import { chromaScale, lumaScale } from '../../picture/signal.js';
import type { Measure, MeasureOptions, RunningMeasure } from '../measure.js';
import { finerOf, halfOf } from './half.js';
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
/** A pattern fainter than this is not noticed, % of range. */
const LEAST_PCT = 0.5;
/** Colour with a luma pattern of less than this share beside it belongs to no cloth. */
const NO_LUMA = 0.35;
/** Wide patterns are looked for at half size: their period is at least this, clip pixels. */
const WIDE_FROM_PX = 16;
const WIDE_EVERY = 2;
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

/** How closely a picture is looked at: 1 as it is, 2 at half its size for wide patterns. */
type Look = 1 | 2;

/** A window in which a pattern was judged not to be of the scene; clip pixels, and the side of the window. */
interface Judged extends Alias {
  readonly x: number;
  readonly y: number;
  readonly side: number;
  readonly kind: 'luma' | 'colour';
}

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
    this.everyPair = Math.max(1, Math.round(options.plan.bursts.count / ENOUGH));
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
    const wanted = this.seen++ % this.everyPair === 0 && this.pairs < ENOUGH;
    if (!wanted) this.skipped = frame.index;
    this.before = wanted
      ? { index: frame.index, planes: frame.planes.map((p) => ({ ...p, samples: p.samples.slice() })) }
      : null;
  }

  private pair(first: readonly Plane[], second: readonly Plane[], index: number): void {
    this.windows = Math.floor(first[0].width / SIDE) * Math.floor(first[0].height / SIDE);
    if (this.windows === 0) return;
    this.pairs++;
    this.lookAt(first, second, index, 1);
    // Wide patterns cover much and change slowly: every other pair is enough for them.
    if (this.pairs % WIDE_EVERY !== 1) return;
    const half = (planes: readonly Plane[]): Plane[] => planes.map((p) => halfOf(p, this.clip.bitDepth));
    this.lookAt(half(first), half(second), index, 2);
  }

  private lookAt(first: readonly Plane[], second: readonly Plane[], index: number, look: Look): void {
    const [luma] = first;
    const columns = Math.floor(luma.width / SIDE);
    const rows = Math.floor(luma.height / SIDE);
    const windows = columns * rows;
    const offset = { x: (luma.width - columns * SIDE) >> 1, y: (luma.height - rows * SIDE) >> 1 };
    // Chroma samples must lie at the same places as the window's edges.
    offset.x -= offset.x % 2;
    offset.y -= offset.y % 2;
    const coloured = first.length === 3 && this.clip.matrix !== 'rgb';
    let looks = 0;
    // All over the picture and in the same order every time: boards at the top must not use up what is left for below.
    for (let k = 0; k < windows && looks < MOST_CLOSE_LOOKS; k++) {
      const at = (k * SCATTER) % windows;
      const [x, y] = [offset.x + (at % columns) * SIDE, offset.y + Math.floor(at / columns) * SIDE];
      const { mask, rowStep } = this.options;
      const side = SIDE * look;
      if (mask.touches(index, x * look, y * look * rowStep, side, side * rowStep)) continue;
      const planes = coloured ? [0, 1, 2] : [0];
      const regular = planes.filter((p) => this.looksRegular(first, p, x, y, look));
      if (regular.length === 0) continue;
      looks++;
      for (const p of regular) this.look(first, second, p, x, y, index, look);
    }
  }

  private shape(
    planes: readonly Plane[],
    p: number,
    look: Look,
  ): { kx: number; ky: number; side: number; span: number } {
    const kx = Math.round(planes[0].width / planes[p].width);
    const ky = Math.round(planes[0].height / planes[p].height);
    const { span } = p === 0 ? lumaScale(this.clip) : chromaScale(this.clip);
    return {
      kx,
      ky,
      side: SIDE / Math.max(kx, ky),
      span: look === 2 ? finerOf(this.clip.bitDepth) * span : span,
    };
  }

  private looksRegular(planes: readonly Plane[], p: number, x: number, y: number, look: Look): boolean {
    const { kx, ky, side, span } = this.shape(planes, p, look);
    const check = this.checks.get(side) ?? new RegularityCheck(side);
    this.checks.set(side, check);
    const least = LEAST_PCT / 100;
    return check.looksRegular(planes[p], Math.floor(x / kx), Math.floor(y / ky), least * span * 0.7);
  }

  private spectrumAt(
    first: readonly Plane[],
    second: readonly Plane[],
    p: number,
    x: number,
    y: number,
    look: Look,
  ): PairSpectrum {
    const { kx, ky, side, span } = this.shape(first, p, look);
    const spectrum = this.spectra.get(side) ?? new PairSpectrum(side);
    this.spectra.set(side, spectrum);
    spectrum.take(first[p], second[p], Math.floor(x / kx), Math.floor(y / ky), 100 / span);
    return spectrum;
  }

  private look(
    first: readonly Plane[],
    second: readonly Plane[],
    p: number,
    x: number,
    y: number,
    index: number,
    look: Look,
  ): void {
    const { kx, ky, side } = this.shape(first, p, look);
    const mostBin = look === 2 ? (SIDE * look) / WIDE_FROM_PX : undefined;
    const peak = peakOf(this.spectrumAt(first, second, p, x, y, look), mostBin);
    if (!peak || peak.amplitude < LEAST_PCT) return;
    let beside = 1;
    if (p > 0) {
      // The same fineness in luma: its window has more samples a side, so its bins lie the same number of cycles apart.
      const scale = SIDE / side;
      const luma = this.spectrumAt(first, second, 0, x, y, look);
      const v = peak.bin.v > side / 2 ? peak.bin.v - side : peak.bin.v;
      const at = (k: number, factor: number): number =>
        ((Math.round((k * scale) / factor) % SIDE) + SIDE) % SIDE;
      beside = amplitudeAt(luma, at(peak.bin.u, kx), at(v, ky)) / peak.amplitude;
    }
    const key = `${look},${x},${y},${p === 0 ? 'luma' : 'colour'}`;
    const list = this.samples.get(key) ?? [];
    list.push({
      frame: index,
      x: x * look,
      y: y * look,
      side: SIDE * look,
      // Cycles per luma pixel.
      fx: peak.fx / kx / look,
      fy: peak.fy / ky / look,
      amplitude: peak.amplitude,
      turned: peak.turned,
      lumaless: beside < NO_LUMA,
    });
    this.samples.set(key, list);
  }

  /** The windows whose pattern the sampling made up, and how many could not be told. */
  private judged(): { found: Judged[]; undecided: number } {
    const { rowStep } = this.options;
    const found: Judged[] = [];
    let undecided = 0;
    for (const [key, list] of this.samples) {
      const kind = key.endsWith('luma') ? 'luma' : 'colour';
      const [{ x, y, side }] = list;
      const verdict = aliasIn(list, this.motion.steps(), kind, rowStep, this.clip.height / rowStep);
      if (verdict === 'undecided') undecided++;
      else if (verdict !== 'scene') found.push({ ...verdict, x, y, side, kind });
    }
    return { found, undecided };
  }

  finish(): MoireReading {
    const { clip, motion } = this;
    const { rowStep } = this.options;
    if (this.windows === 0) return notMeasurable(tooSmall(clip, 'to tell a pattern from a single edge'));
    if (this.pairs === 0)
      return notMeasurable('No two neighbouring frames could be read: a pattern is told by how it moves.');
    const steps = motion.steps();
    const { found, undecided } = this.judged();
    const sheets = sheetsOf(found);
    const judged = sheets.flat();
    const patterns = sheets.map((sheet) => patternOf(sheet, clip, rowStep)).sort(plainestFirst);
    // Of windows that lie over one another each place counts once.
    const places = new Set(
      judged.flatMap(({ x, y, side }) => {
        const parts = Array.from({ length: side / SIDE }, (_, k) => k * SIDE);
        return parts.flatMap((v) =>
          parts.map((u) => `${Math.floor((x + u) / SIDE)},${Math.floor((y + v) / SIDE)}`),
        );
      }),
    );
    const areaPct = Math.min(100, (100 * places.size * SIDE * SIDE * rowStep) / (clip.width * clip.height));
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
        areaPct: rounded(areaPct, 3),
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

/** Neighbouring windows of one kind and size as one sheet of cloth; single windows are none. */
/** A pattern is a sheet: several windows side by side. One alone is a piece of the scene. */
const sheetsOf = (found: readonly Judged[]): Judged[][] => {
  const left = new Set(found);
  const sheets: Judged[][] = [];
  for (const seed of found) {
    if (!left.delete(seed)) continue;
    const sheet = [seed];
    for (const member of sheet)
      for (const other of left)
        if (
          other.kind === member.kind &&
          other.side === member.side &&
          Math.abs(other.x - member.x) <= member.side &&
          Math.abs(other.y - member.y) <= member.side
        ) {
          left.delete(other);
          sheet.push(other);
        }
    if (sheet.length >= SEVERAL) sheets.push(sheet);
  }
  return sheets;
};

type Pattern = MoireValues['patterns'][number];

const plainestFirst = (a: Pattern, b: Pattern): number =>
  b.width * b.height * b.strength - a.width * a.height * a.strength;

const patternOf = (sheet: readonly Judged[], clip: ClipFacts, rowStep: number): Pattern => {
  const [{ kind, side }] = sheet;
  const [x0, y0] = [Math.min(...sheet.map((g) => g.x)), Math.min(...sheet.map((g) => g.y))];
  const [x1, y1] = [Math.max(...sheet.map((g) => g.x)) + side, Math.max(...sheet.map((g) => g.y)) + side];
  const crawls = sheet.map((g) => g.crawlPxPerFrame).filter((c) => c !== null);
  return {
    x: x0,
    y: y0 * rowStep,
    width: x1 - x0,
    height: (y1 - y0) * rowStep,
    startFrame: 0,
    endFrame: clip.frames - 1,
    strength: rounded(median(sheet.map((g) => g.amplitude)), 3),
    periodPx: rounded(median(sheet.map((g) => g.periodPx)), 2),
    kind,
    crawlPxPerFrame: crawls.length > 0 ? rounded(median(crawls), 3) : null,
  };
};
