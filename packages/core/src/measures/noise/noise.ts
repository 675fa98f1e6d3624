import { FLASH } from '../../picture/signal.js';
import { isTooSmall, tooSmall } from '../../picture/size.js';
import { ENOUGH, SEVERAL } from '../../maths/enough.js';
import { notMeasurable, type ClipFacts, type Reading } from '#terms';
import { CHANNELS, noise as described, type NoiseValues } from './descriptor.js';
import { madSigma, mean, median } from '../../maths/robust.js';
import { STILL } from '../../motion/similarity.js';
import { burstOf, isOneOfFew, type Frame, type Plane } from '../../picture/frame.js';
import { transformOf, type Transform } from '../../picture/viewing.js';
import type { Measure, MeasureOptions, RunningMeasure } from '../measure.js';
import { chanceWithinGoal } from '../uncertainty.js';
import { BlockReader, type BlockNoise, type Channel, type Rho } from './block-noise.js';
import { channelCurves, channelPowers, levelCurve, round } from './by-level.js';
import { elsewhere } from './elsewhere.js';
import { FixedPattern } from './fixed-pattern.js';
import { BLOCK, flatBlocks, isSameFrame, LEVEL_BANDS, motionBetween, type FlatBlock } from './pair.js';
import { oddOnes } from './odd-ones.js';
import { withoutPicture } from './picture-left.js';
import { filteredCovariance, LAGS, lanczos } from './resample.js';

export type NoiseReading = Reading<NoiseValues, Record<never, never>>;

const SHADOW_PCT = 25;
/** Most blocks kept of one pair; spread evenly over the picture. */
const MOST_BLOCKS = 800;
/** Share of the reading that is taken for its standard error where too few pairs of frames were measured to scatter. */
const FEW_PAIRS_SCATTER = 0.03;
/** Blocks that are odd are looked for elsewhere, so many of them at most, as long as not many are looked for in vain beyond those that are found: noise that differs is not to be found. */
const MOST_FOLLOWED = 24;
/** So many found for one that is looked for in vain are somebody who passes; noise that differs is found once in a thousand times. */
const SOMEBODY = 0.5;
/** Less than any code: keeps a picture without noise from being divided by nothing, %². */
const NO_POWER = 1e-9;
/** Where only the noise of one picture is known. */
const FROZEN_CONFIDENCE = 0.2;
const REGIONS_SHOWN = 24;
/** Frames that lie no further apart show the same detail, pixels. */
const STANDS_PX = 0.1;

/**
 * Noise: standard deviation of what changes between neighbouring full-size frames once they are registered, in flat
 * blocks, by channel, level and size of grain; and of what stays on the sensor while the scene moves.
 *
 * Method: docs/measures/noise.md. All figures in % of the signal range at the clip's own depth.
 */
export const noise: Measure<NoiseReading> = {
  begin: (clip, _motion, options) => new RunningNoise(clip, options),
};

interface Kept {
  readonly index: number;
  readonly planes: Plane[];
}

/** Noise of a clip while pairs of neighbouring full-size frames come in. */
export class RunningNoise implements RunningMeasure<NoiseReading> {
  private before: Kept | null = null;
  private readonly found: BlockNoise[] = [];
  private readonly levels = new Float64Array(LEVEL_BANDS);
  /** Autocovariance of the differences of all blocks together. */
  private readonly covariance: Rho = { across: new Float64Array(LAGS), down: new Float64Array(LAGS) };
  private readonly fractions: { x: number; y: number }[] = [];
  private readonly fixed: FixedPattern;
  private readonly pairPower: number[] = [];
  /** How far each pair is shifted, at most 1 px: what a shift parts, the difference shows, fixed noise included. */
  private readonly shifts: number[] = [];
  private rho: Rho = { across: white(), down: white() };
  private pairs = 0;
  private repeated = 0;
  private unregistered = 0;
  private reader: BlockReader | null = null;

  private readonly transform: Transform | null;

  constructor(
    private readonly clip: ClipFacts,
    private readonly options: MeasureOptions,
  ) {
    this.fixed = new FixedPattern(clip);
    const { viewing } = options.overrides;
    this.transform = viewing ? transformOf(viewing, clip.transfer) : null;
  }

  /** The blocks that may be used: inside the technician's patch where one was drawn, and outside of what is masked. */
  private allowed(blocks: readonly FlatBlock[], frame: number): readonly FlatBlock[] {
    const { mask, overrides, rowStep } = this.options;
    const patch = overrides.noisePatch;
    if (mask.empty && !patch) return blocks;
    return blocks.filter(
      ({ x, y }) =>
        !mask.touches(frame, x, y * rowStep, BLOCK, BLOCK * rowStep) &&
        (!patch ||
          (x >= patch.x &&
            x + BLOCK <= patch.x + patch.width &&
            y * rowStep >= patch.y &&
            (y + BLOCK) * rowStep <= patch.y + patch.height)),
    );
  }

  take(frame: Frame): void {
    const { plan } = this.options;
    if (!isOneOfFew(plan, burstOf(plan, frame.index) ?? 0, ENOUGH)) return;
    const before = this.before;
    if (before && frame.index === before.index + 1) {
      this.pair(before.planes, frame.planes, frame.index);
      this.before = null;
      return;
    }
    this.before = {
      index: frame.index,
      planes: frame.planes.map((p) => ({ ...p, samples: p.samples.slice() })),
    };
  }

  private pair(first: readonly Plane[], second: readonly Plane[], index: number): void {
    this.pairs++;
    if (isSameFrame(first[0], second[0])) {
      this.repeated++;
      const still = flatBlocks(first[0], second[0], STILL, this.clip);
      still.levels.forEach((n, band) => (this.levels[band] += n));
      this.fixed.take(first[0], still.blocks);
      return;
    }
    const { motion, sure } = motionBetween(first[0], second[0]);
    const {
      blocks: flat,
      levels,
      gain,
    } = flatBlocks(first[0], second[0], motion, this.clip, this.options.overrides.noisePatch !== undefined);
    const blocks = this.allowed(flat, index);
    if ((!sure && !looksFlat(blocks.length)) || Math.abs(Math.log(gain)) > FLASH) {
      this.unregistered++;
      return;
    }
    levels.forEach((n, band) => (this.levels[band] += n));
    this.fixed.take(first[0], blocks);
    this.reader ??= new BlockReader(this.clip, first.length, this.transform);
    this.reader.begin(first, second);
    const read = this.read(first[0], second[0], blocks);
    const shift = Math.hypot(motion.dx, motion.dy);
    const noise = shift < STANDS_PX ? read : withoutPicture(read);
    this.found.push(...noise);
    if (noise.length > 0) this.pairPower.push(median(noise.map((b) => b.power.luma)));
    this.shifts.push(Math.min(1, shift));
    this.rho = this.grain();
  }

  /** Reads blocks spread evenly over the picture, each where the second frame shows what the first shows there. */
  private read(first: Plane, second: Plane, blocks: readonly FlatBlock[]): BlockNoise[] {
    const reader = this.reader!;
    const step = Math.max(1, Math.ceil(blocks.length / MOST_BLOCKS));
    const used = blocks.filter((_, i) => i % step === 0);
    const all = used.map((block) => reader.read(block, this.rho));
    const read = this.followed(first, second, used, all);
    for (const { covariance } of read)
      for (let lag = 0; lag < LAGS; lag++) {
        this.covariance.across[lag] += covariance.across[lag];
        this.covariance.down[lag] += covariance.down[lag];
      }
    this.fractions.push(...used.map((block) => ({ x: block.fractionX, y: block.fractionY })));
    return read;
  }

  /**
   * What was read of the blocks, those that go another way than the camera read where they went. Where some of them are
   * found, somebody passes: those that are not found say nothing of noise either.
   */
  private followed(
    first: Plane,
    second: Plane,
    blocks: readonly FlatBlock[],
    read: readonly BlockNoise[],
  ): BlockNoise[] {
    const reader = this.reader!;
    const odd = oddOnes(read);
    const there = new Map<number, BlockNoise>();
    let inVain = 0;
    for (const i of odd.slice(0, MOST_FOLLOWED)) {
      if (inVain - there.size >= ENOUGH) break;
      const block = elsewhere(first, second, blocks[i]);
      const anew = block && reader.read(block, this.rho);
      if (anew && anew.power.luma <= read[i].power.luma) there.set(i, anew);
      else inVain++;
    }
    const somebody = there.size > 1 && there.size >= SOMEBODY * inVain;
    const lost = new Set(somebody ? odd.filter((i) => !there.has(i)) : []);
    return read.flatMap((one, i) => (lost.has(i) ? [] : [there.get(i) ?? one]));
  }

  /** Autocorrelation of the noise itself, from that of the difference, whose second part went through a filter. */
  private grain(): Rho {
    const along = (covariance: Float64Array, fractions: number[]): Float64Array => {
      const taps = lanczos(mean(fractions.map((f) => Math.min(f, 1 - f))));
      const total = covariance[0] || 1;
      let rho = white();
      for (let pass = 0; pass < 8; pass++) {
        const gain = 1 + filteredCovariance(taps, rho, 0);
        rho = rho.map((_, lag) =>
          lag === 0
            ? 1
            : clamp((gain * covariance[lag]) / total - filteredCovariance(taps, rho, lag), -0.5, 0.98),
        );
      }
      return rho;
    };
    return {
      across: along(
        this.covariance.across,
        this.fractions.map((f) => f.x),
      ),
      down: along(
        this.covariance.down,
        this.fractions.map((f) => f.y),
      ),
    };
  }

  finish(): NoiseReading {
    const reason = this.whyNot();
    if (reason) return notMeasurable(reason);
    const frozen = this.found.length < ENOUGH;
    const fixed = frozen ? this.fixed.stillFloor() : this.fixed.power();
    const unseen = frozen ? fixed : fixed * (1 - mean(this.shifts));
    const moving = channelPowers(this.found, this.levels, effectiveSamples(this.rho));
    const total = (c: Channel): number => Math.sqrt((frozen ? 0 : moving[c]) + unseen);
    const sigma = Object.fromEntries(CHANNELS.map((c) => [c, total(c)])) as Record<Channel, number>;
    const power = frozen ? fixed : moving.luma + unseen;
    const scatter = this.scatter(sigma);
    const shadows = this.found.filter((b) => b.levelPct < SHADOW_PCT);
    return {
      state: 'measured',
      reason: null,
      confidence: frozen ? FROZEN_CONFIDENCE : this.confidence(sigma.luma, scatter.lumaPct),
      ...(!frozen && { scatter }),
      values: {
        ...channelValues(sigma),
        snrDb: round(20 * Math.log10(100 / Math.max(1e-3, sigma.luma))),
        ...sizeShares(this.found),
        temporalShare: power > 0 ? round(clamp(1 - fixed / power, 0, 1)) : 1,
        curve: frozen ? [] : levelCurve(this.found, 'luma', unseen),
        ...(!frozen && { channelCurves: channelCurves(this.found, unseen) }),
        shadowSigmaPct:
          shadows.length >= SEVERAL
            ? round(Math.sqrt(median(shadows.map((b) => b.power.luma)) + unseen))
            : null,
        shadowFew: shadows.length >= SEVERAL && shadows.length < ENOUGH,
        ...(this.transform && !frozen ? { gradedLumaPct: round(Math.sqrt(this.gradedPower())) } : {}),
      },
      series: {},
      regions: this.regions(),
    };
  }

  /** Put together as the levels occur in the picture, as luma is. */
  private gradedPower(): number {
    const graded = this.found.map((b) => ({ ...b, power: { ...b.power, luma: b.graded ?? 0 } }));
    return channelPowers(graded, this.levels, effectiveSamples(this.rho)).luma;
  }

  private whyNot(): string | null {
    const { frames } = this.clip;
    if (frames < 2)
      return 'There is only one frame: noise shows in what changes between neighbouring frames.';
    if (isTooSmall(this.clip)) return tooSmall(this.clip, 'to hold flat patches enough');
    if (this.pairs === 0) return 'No two neighbouring frames could be read.';
    if (this.found.length >= ENOUGH) return null;
    if (this.repeated === this.pairs)
      return this.fixed.stillFloor() > 0
        ? null
        : 'All frames are alike: the picture is held, so nothing changes that could be measured.';
    if (this.options.overrides.noisePatch)
      return `The patch holds fewer than ${ENOUGH} places of ${BLOCK}×${BLOCK} pixels that are not clipped: draw a larger one.`;
    if (this.unregistered > 0)
      return 'Neighbouring frames do not match: the movement between them could not be followed.';
    return 'Every flat patch is clipped to black or white: noise cannot be seen there.';
  }

  /** Standard errors: each pair of frames reads the noise anew. A share of power is half that share of sigma. */
  private scatter(sigma: Record<Channel, number>): Record<string, number> {
    const pairs = this.pairPower.length;
    const share =
      pairs < SEVERAL
        ? FEW_PAIRS_SCATTER
        : madSigma(this.pairPower) / (2 * Math.max(NO_POWER, median(this.pairPower)) * Math.sqrt(pairs));
    return Object.fromEntries(
      CHANNELS.flatMap((c) => (Number.isFinite(sigma[c]) ? [[`${c}Pct`, round(share * sigma[c])]] : [])),
    );
  }

  /** As many of the pairs as could be used, and how surely they tell. */
  private confidence(lumaPct: number, scatter: number): number {
    const used = this.pairPower.length / this.pairs;
    return round((0.5 + 0.5 * used) * chanceWithinGoal(described.figures.lumaPct, lumaPct, scatter));
  }

  /** The patches that were used most recently, merged side by side for the eye. */
  private regions(): Extract<NoiseReading, { state: 'measured' }>['regions'] {
    const last = this.found.slice(-MOST_BLOCKS);
    const step = Math.max(1, Math.floor(last.length / REGIONS_SHOWN));
    return last
      .filter((_, i) => i % step === 0)
      .slice(0, REGIONS_SHOWN)
      .map((b) => ({
        x: b.x,
        y: b.y * this.options.rowStep,
        width: BLOCK,
        height: BLOCK * this.options.rowStep,
        startFrame: 0,
        endFrame: this.clip.frames - 1,
        strength: round(Math.sqrt(b.power.luma)),
      }));
  }
}

const looksFlat = (blocks: number): boolean => blocks >= 400;
const white = (): Float64Array => Float64Array.from({ length: LAGS }, (_, lag) => (lag === 0 ? 1 : 0));
const clamp = (v: number, low: number, high: number): number => Math.max(low, Math.min(high, v));

/** Independent samples in a block: fewer for coarse grain. */
const effectiveSamples = (rho: Rho): number => {
  const sum = (r: Float64Array): number => r.reduce((s, v, lag) => s + (lag === 0 ? 1 : 2 * v * v), 0);
  return Math.max(4, (BLOCK * BLOCK) / (sum(rho.across) * sum(rho.down)));
};

const channelValues = (
  sigma: Record<Channel, number>,
): Pick<NoiseValues, 'lumaPct' | 'cbPct' | 'crPct' | 'redPct' | 'greenPct' | 'bluePct' | 'worstChannel'> => {
  const or = (v: number): number | null => (Number.isFinite(v) ? round(v) : null);
  const coloured = (['red', 'green', 'blue'] as const).filter((c) => Number.isFinite(sigma[c]));
  return {
    lumaPct: round(sigma.luma),
    cbPct: or(sigma.cb),
    crPct: or(sigma.cr),
    redPct: or(sigma.red),
    greenPct: or(sigma.green),
    bluePct: or(sigma.blue),
    worstChannel: coloured.length === 0 ? 'luma' : coloured.reduce((a, b) => (sigma[b] > sigma[a] ? b : a)),
  };
};

const sizeShares = (
  found: readonly BlockNoise[],
): Pick<NoiseValues, 'fineShare' | 'mediumShare' | 'coarseShare'> => {
  if (found.length === 0) return { fineShare: 1, mediumShare: 0, coarseShare: 0 };
  const [one, two, four] = [0, 1, 2].map((i) => median(found.map((b) => b.bySize[i])));
  if (one <= 0) return { fineShare: 1, mediumShare: 0, coarseShare: 0 };
  const coarse = clamp(four / one, 0, 1);
  const medium = clamp((two - four) / one, 0, 1 - coarse);
  return { fineShare: round(1 - coarse - medium), mediumShare: round(medium), coarseShare: round(coarse) };
};
