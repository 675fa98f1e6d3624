import type { ClipFacts } from '#terms';
import { kernels } from '../../kernels/kernels.js';
import type { Plane } from '../../picture/frame.js';
import { chromaScale, lumaScale, lumaWeights } from '../../picture/signal.js';
import { lumaSlopes, type Transform } from '../../picture/viewing.js';
import { BLOCK, type FlatBlock } from './pair.js';
import { ownWayOf, takeOut } from './own-way.js';
import { detailOf, detailOfNoise } from './picture-left.js';
import { LAGS, lanczos, noiseGain, TAPS } from './resample.js';

/** Noise power of one flat block, in (% of range)², before the resampling filter is corrected for. */
export interface BlockNoise {
  readonly levelPct: number;
  readonly power: Record<Channel, number>;
  /** Power of luma after the viewing transform, where there is one. */
  readonly graded: number | null;
  /** Power of 1, 2×2 and 4×4 pixel means of luma. */
  readonly bySize: readonly [number, number, number];
  /** Fine detail of both frames together, and what of it is noise, over the noise's own power. */
  readonly detail: number;
  readonly detailOfNoise: number;
  /** Autocovariance of the difference of luma by lag. */
  readonly covariance: Rho;
  readonly x: number;
  readonly y: number;
}
export type Channel = 'luma' | 'cb' | 'cr' | 'red' | 'green' | 'blue';

/** Autocovariance of a luma difference by lag, `LAGS` values along rows and as many down columns. */
const autocovariance = (d: Float64Array): Rho => {
  const [alongRows, downColumns] = [new Float64Array(LAGS), new Float64Array(LAGS)];
  for (let lag = 0; lag < LAGS; lag++) {
    let across = 0;
    let down = 0;
    for (let r = 0; r < BLOCK; r++)
      for (let c = 0; c + lag < BLOCK; c++) {
        across += d[r * BLOCK + c] * d[r * BLOCK + c + lag];
        down += d[c * BLOCK + r] * d[(c + lag) * BLOCK + r];
      }
    const n = BLOCK * (BLOCK - lag);
    alongRows[lag] = across / n;
    downColumns[lag] = down / n;
  }
  return { across: alongRows, down: downColumns };
};

/**
 * Takes the difference of a registered pair in one block: in luma, and in colour where there is any. White-noise
 * assumptions are made nowhere; the filter's gain for this clip's grain is put right by the caller's `rho`.
 */
export class BlockReader {
  private readonly weights = new Float32Array(2 * TAPS);
  private readonly rowGains = new Float32Array(BLOCK);
  private readonly differences: Float64Array[];
  private readonly rgb: boolean;
  private readonly scales: { black: number; span: number }[];

  constructor(
    private readonly facts: ClipFacts,
    private readonly planeCount: number,
    private readonly transform: Transform | null = null,
  ) {
    this.rgb = facts.matrix === 'rgb';
    const luma = lumaScale(facts);
    const chroma = this.rgb ? luma : chromaScale(facts);
    this.scales = [luma, chroma, chroma];
    this.differences = Array.from({ length: 3 }, () => new Float64Array(BLOCK * BLOCK));
  }

  private first: readonly Plane[] = [];
  private second: readonly Plane[] = [];
  /** Where the kernels find both frames' planes, the filter with the gains after it, and what comes out. */
  private addresses: { first: number; second: number }[] = [];
  private coarse: { readonly of: Rho; readonly grain: Rho } | null = null;
  private filter = 0;
  private out = 0;

  /** Puts a pair of frames in, whose blocks are read until the next pair. No other kernel may run in between. */
  begin(first: readonly Plane[], second: readonly Plane[]): void {
    [this.first, this.second] = [first, second];
    const samples = first.reduce((sum, { samples: { length } }) => sum + length, 0);
    const { weights, rowGains } = this;
    kernels.reserve(samples + weights.length + rowGains.length + 2 * BLOCK * BLOCK, 2 * first.length + 2);
    this.addresses = first.map((plane, p) => ({
      first: kernels.putWords(plane.samples),
      second: kernels.putWords(second[p].samples),
    }));
    this.filter = kernels.room(weights.length + rowGains.length);
    this.out = kernels.room(2 * BLOCK * BLOCK);
  }

  /** @param rho autocorrelation of the noise along rows and down columns, `LAGS` values each */
  read(block: FlatBlock, rho: Rho): BlockNoise {
    const shapes: Shape[] = [];
    for (let p = 0; p < this.planeCount; p++) shapes.push(this.difference(p, block, rho));
    const [luma, cb, cr] = this.differences;
    const { gain, tapsX, tapsY, light } = shapes[0];
    this.followBlock(block, shapes);
    const power = this.rgb
      ? rgbPower(this.differences, shapes, this.facts)
      : ycbcrPower(luma, cb, cr, shapes, this.facts);
    return {
      levelPct: block.levelPct,
      power,
      graded: this.transform && this.gradedPower(block, power, this.transform),
      bySize: sizePowers(luma, gain),
      detail: detailOf(this.first[0], block.x, block.y, luma, 100 / this.scales[0].span),
      detailOfNoise: detailOfNoise(rho, tapsX, tapsY, light),
      covariance: autocovariance(luma),
      x: block.x,
      y: block.y,
    };
  }

  /** What goes another way than the picture is laid over itself by its own. */
  private followBlock({ x, y }: FlatBlock, shapes: readonly Shape[]): void {
    const { first, differences, scales } = this;
    const way = ownWayOf(first[0], x, y, differences[0], 100 / scales[0].span);
    if (!way) return;
    shapes.forEach(({ width, height }, p) => {
      const [sx, sy] = [BLOCK / width, BLOCK / height];
      const area = { x: Math.floor(x / sx), y: Math.floor(y / sy), width, height };
      takeOut(first[p], area, { dx: way.dx / sx, dy: way.dy / sy }, differences[p], 100 / scales[p].span);
    });
  }

  /** Noise of luma once it went through the transform, by its slopes at the block's own colour. */
  private gradedPower(block: FlatBlock, power: Record<Channel, number>, transform: Transform): number {
    const { first } = this;
    const coloured = !this.rgb && this.planeCount === 3 && Number.isFinite(power.cb);
    const meanOf = (p: number): number => {
      const { width, height, samples } = first[p];
      const [kx, ky] = [Math.round(first[0].width / width), Math.round(first[0].height / height)];
      const [x, y, side] = [Math.floor(block.x / kx), Math.floor(block.y / ky), BLOCK / Math.max(kx, ky)];
      let sum = 0;
      for (let v = 0; v < side; v++)
        for (let u = 0; u < side; u++)
          sum += samples[Math.min(height - 1, y + v) * width + Math.min(width - 1, x + u)];
      return (sum / (side * side) - this.scales[p].black) / this.scales[p].span;
    };
    const [cb, cr] = coloured ? [meanOf(1), meanOf(2)] : [0, 0];
    const [sy, sb, sr] = lumaSlopes(transform, block.levelPct / 100, cb, cr, this.facts.matrix);
    return sy * sy * power.luma + (coloured ? sb * sb * power.cb + sr * sr * power.cr : 0);
  }

  /** The same for every block of a pair. */
  private coarser(rho: Rho, x: number, y: number): Rho {
    if (this.coarse?.of !== rho) this.coarse = { of: rho, grain: coarser(rho, x, y) };
    return this.coarse.grain;
  }

  private difference(p: number, block: FlatBlock, rho: Rho): Shape {
    const { first, second, weights, rowGains, filter, out } = this;
    const scaleX = Math.round(first[0].width / first[p].width);
    const scaleY = Math.round(first[0].height / first[p].height);
    const width = BLOCK / scaleX;
    const height = BLOCK / scaleY;
    const toX = (block.toX + block.fractionX) / scaleX;
    const toY = (block.toY + block.fractionY) / scaleY;
    const x = Math.floor(block.x / scaleX);
    const y = Math.floor(block.y / scaleY);
    const [u, v] = [toX + x - block.x / scaleX, toY + y - block.y / scaleY];
    const [iu, iv] = [Math.floor(u), Math.floor(v)];
    const tapsX = lanczos(u - iu);
    const tapsY = lanczos(v - iv);
    weights.set(tapsX);
    weights.set(tapsY, TAPS);
    for (let r = 0; r < height; r++) rowGains[r] = 1 / block.gains[r * scaleY];
    const gains = filter + weights.byteLength;
    kernels.set(filter, weights);
    kernels.set(gains, rowGains);
    const { black, span } = this.scales[p];
    const [from, to] = [first[p], second[p]];
    kernels.run.movedDifference(
      this.addresses[p].first + 2 * (y * from.width + x),
      from.width,
      this.addresses[p].second + 2 * (iv * to.width + iu),
      to.width,
      filter,
      gains,
      width,
      height,
      black,
      100 / span,
      out,
    );
    kernels.copyDoubles(out, width * height, this.differences[p]);
    const light = 1 / block.gains[0];
    const grain = scaleX === 1 && scaleY === 1 ? rho : this.coarser(rho, scaleX, scaleY);
    return {
      width,
      height,
      gain: 1 + light * light * noiseGain(tapsX, grain.across) * noiseGain(tapsY, grain.down),
      tapsX,
      tapsY,
      light,
    };
  }
}

/** By lag, along rows and down columns: the correlation of the noise of samples that far apart, −1 to 1, or their covariance. */
export interface Rho {
  readonly across: Float64Array;
  readonly down: Float64Array;
}
interface Shape {
  readonly width: number;
  readonly height: number;
  /** Variance of the difference over the variance of one frame's noise. */
  readonly gain: number;
  /** What the second frame went through: the filter along rows and down columns, and a change of light. */
  readonly tapsX: Float64Array;
  readonly tapsY: Float64Array;
  readonly light: number;
}

/** Autocorrelation after neighbouring samples were averaged, as chroma subsampling does. */
const coarser = (rho: Rho, x: number, y: number): Rho => {
  const average = (r: Float64Array, by: number): Float64Array => {
    if (by === 1) return r;
    const at = (lag: number): number => (Math.abs(lag) < LAGS ? r[Math.abs(lag)] : 0);
    const covariance = (lag: number): number => 2 * at(2 * lag) + at(2 * lag - 1) + at(2 * lag + 1);
    return Float64Array.from({ length: LAGS }, (_, lag) => covariance(lag) / covariance(0));
  };
  return { across: average(rho.across, x), down: average(rho.down, y) };
};

const meanSquare = (d: Float64Array, n: number): number => {
  let sum = 0;
  for (let i = 0; i < n; i++) sum += d[i] * d[i];
  return sum / n;
};

const sizePowers = (d: Float64Array, gain: number): [number, number, number] => {
  const of = (size: number): number => {
    let sum = 0;
    for (let r = 0; r < BLOCK; r += size)
      for (let c = 0; c < BLOCK; c += size) {
        let cell = 0;
        for (let y = r; y < r + size; y++) for (let x = c; x < c + size; x++) cell += d[y * BLOCK + x];
        sum += (cell / (size * size)) ** 2;
      }
    return sum / (BLOCK / size) ** 2 / gain;
  };
  return [of(1), of(2), of(4)];
};

const rgbPower = (
  d: readonly Float64Array[],
  shapes: readonly Shape[],
  facts: ClipFacts,
): Record<Channel, number> => {
  const [green, blue, red] = d;
  const { kr, kb } = lumaWeights(facts.matrix);
  const n = BLOCK * BLOCK;
  const { gain } = shapes[0];
  let luma = 0;
  let cb = 0;
  let cr = 0;
  for (let i = 0; i < n; i++) {
    const y = kr * red[i] + (1 - kr - kb) * green[i] + kb * blue[i];
    luma += y * y;
    cb += ((blue[i] - y) / (2 * (1 - kb))) ** 2;
    cr += ((red[i] - y) / (2 * (1 - kr))) ** 2;
  }
  const of = (sum: number): number => sum / n / gain;
  return {
    luma: of(luma),
    cb: of(cb),
    cr: of(cr),
    red: meanSquare(red, n) / gain,
    green: meanSquare(green, n) / gain,
    blue: meanSquare(blue, n) / gain,
  };
};

/** Red, green and blue are what a display shows: each chroma sample stands for the luma samples it covers. */
const ycbcrPower = (
  luma: Float64Array,
  cb: Float64Array,
  cr: Float64Array,
  shapes: readonly Shape[],
  facts: ClipFacts,
): Record<Channel, number> => {
  const y = meanSquare(luma, BLOCK * BLOCK) / shapes[0].gain;
  if (shapes.length < 3) return { luma: y, cb: NaN, cr: NaN, red: NaN, green: NaN, blue: NaN };
  const { kr, kb } = lumaWeights(facts.matrix);
  const { width, height, gain } = shapes[1];
  const [sx, sy] = [BLOCK / width, BLOCK / height];
  const n = width * height;
  const both = Math.sqrt(gain * shapes[0].gain);
  let yb = 0;
  let yr = 0;
  let br = 0;
  for (let r = 0; r < height; r++)
    for (let c = 0; c < width; c++) {
      let cell = 0;
      for (let j = 0; j < sy; j++)
        for (let i = 0; i < sx; i++) cell += luma[(r * sy + j) * BLOCK + c * sx + i];
      cell /= sx * sy;
      const i = r * width + c;
      yb += (cell * cb[i]) / n / both;
      yr += (cell * cr[i]) / n / both;
      br += (cb[i] * cr[i]) / n / gain;
    }
  const b = meanSquare(cb, n) / gain;
  const rr = meanSquare(cr, n) / gain;
  const toRed = 2 * (1 - kr);
  const toBlue = 2 * (1 - kb);
  const kg = 1 - kr - kb;
  const [gb, gr] = [(-toBlue * kb) / kg, (-toRed * kr) / kg];
  const positive = (v: number): number => Math.max(0, v);
  return {
    luma: y,
    cb: b,
    cr: rr,
    red: positive(y + toRed * toRed * rr + 2 * toRed * yr),
    green: positive(y + gb * gb * b + gr * gr * rr + 2 * gb * yb + 2 * gr * yr + 2 * gb * gr * br),
    blue: positive(y + toBlue * toBlue * b + 2 * toBlue * yb),
  };
};
