import type { ClipFacts } from '@bevrin/contract';
import { consensus, mean } from '../../maths/robust.js';
import type { Frame } from '../../picture/frame.js';
import { smallScale, toLinearLight } from '../../picture/signal.js';
import type { Registration } from '../../motion/register.js';

/** Row bands of the picture; fine enough to see six bars of light over its height. */
export const BANDS = 30;
const COLUMNS = 12;
/** Pixels darker or brighter than this (0–1 of range) follow light badly: footroom, clipping. */
const DARKEST = 0.06;
const BRIGHTEST = 0.95;
/** A tile needs this share of usable pixels to vote. */
const LEAST_USABLE = 0.3;
/** Agreement below which the tiles show different things and no light can be read. */
const LEAST_AGREEING = 0.3;
/** Log ratios closer than this are the same light. */
const SAME_LIGHT = 0.0008;
/** A pixel whose light changes by more than this factor is something else that came into its place. */
const NOT_LIGHT = 2;

/** Log light of each row band against the frame before; `null` where it could not be told. */
export type BandSteps = Float64Array | null;

/**
 * Follows the light of registered frames: each tile of a row band gives the log ratio of its light, and the
 * band's step is what most of its tiles share, so that a subject that crosses does not count as light.
 * About 15 operations per small pixel.
 */
export class LightFollower {
  private readonly light: Float32Array;
  private before: Float32Array | null = null;

  constructor(clip: Pick<ClipFacts, 'bitDepth' | 'range' | 'transfer'>) {
    const { black, span } = smallScale(clip);
    this.light = Float32Array.from({ length: 65536 }, (_, code) => {
      const signal = (code - black) / span;
      return signal < DARKEST || signal > BRIGHTEST ? NaN : toLinearLight(signal, clip.transfer);
    });
  }

  /** @param motion from the frame before, in small pixels */
  take(frame: Frame, motion: Registration | null): BandSteps {
    const { width, height, samples } = frame.planes[0];
    const light = new Float32Array(samples.length);
    for (let i = 0; i < light.length; i++) light[i] = this.light[samples[i]];
    const before = this.before;
    this.before = light;
    if (!before || before.length !== light.length) return null;
    const tiles = compare(before, light, width, height, motion);
    return tiles && stepsOf(tiles);
  }
}

/** Log ratio of the light of each tile, `NaN` where too little is usable. */
const compare = (before: Float32Array, after: Float32Array, width: number, height: number, motion: Registration | null): Float64Array | null => {
  const { dx, dy, zoom, turn } = motion?.motion ?? { dx: 0, dy: 0, zoom: 0, turn: 0 };
  const sums = new Float64Array(BANDS * COLUMNS);
  const later = new Float64Array(BANDS * COLUMNS);
  const used = new Float64Array(BANDS * COLUMNS);
  const size = new Float64Array(BANDS * COLUMNS);
  const cx = (width - 1) / 2;
  const cy = (height - 1) / 2;
  for (let y = 0; y < height; y++) {
    const row = Math.floor((y * BANDS) / height) * COLUMNS;
    let u = dx - zoom * cx - turn * (y - cy);
    let v = y + dy - turn * cx + zoom * (y - cy);
    for (let x = 0; x < width; x++, u += zoom, v += turn) {
      const tile = row + Math.floor((x * COLUMNS) / width);
      size[tile]++;
      const a = before[y * width + x];
      const px = x + u;
      const ix = Math.floor(px);
      const iy = Math.floor(v);
      if (ix < 0 || iy < 0 || ix >= width - 1 || iy >= height - 1) continue;
      const i = iy * width + ix;
      const fx = px - ix;
      const fy = v - iy;
      const top = after[i] + (after[i + 1] - after[i]) * fx;
      const bottom = after[i + width] + (after[i + width + 1] - after[i + width]) * fx;
      const b = top + (bottom - top) * fy;
      if (!(b < NOT_LIGHT * a && a < NOT_LIGHT * b)) continue; // also leaves out NaN: clipped or dark
      sums[tile] += a;
      later[tile] += b;
      used[tile]++;
    }
  }
  let voting = 0;
  const tiles = sums.map((s, t) => {
    if (used[t] < LEAST_USABLE * size[t] || size[t] < 4) return NaN;
    voting++;
    return Math.log(later[t] / s);
  });
  return voting >= COLUMNS ? tiles : null;
};

/** A band whose own tiles are too few or at odds follows its neighbours. */
const stepsOf = (tiles: Float64Array): BandSteps => {
  const all = consensus(tiles.filter((t) => !Number.isNaN(t)), SAME_LIGHT);
  const steps = new Float64Array(BANDS).fill(NaN);
  for (let band = 0; band < BANDS; band++) {
    const own = tiles.subarray(band * COLUMNS, (band + 1) * COLUMNS).filter((t) => !Number.isNaN(t));
    if (own.length < 4) continue;
    const { level, agreeing } = consensus(own, SAME_LIGHT);
    if (agreeing >= LEAST_AGREEING) steps[band] = level;
  }
  const known = steps.filter((s) => !Number.isNaN(s));
  if (known.length < BANDS / 3) return all.agreeing >= LEAST_AGREEING ? steps.fill(all.level) : null;
  const fallback = mean(known);
  return steps.map((s, band) => (Number.isNaN(s) ? nearestKnown(steps, band) ?? fallback : s));
};

const nearestKnown = (steps: Float64Array, band: number): number | null => {
  for (let reach = 1; reach < BANDS; reach++) {
    const near = [steps[band - reach], steps[band + reach]].filter((s) => s !== undefined && !Number.isNaN(s));
    if (near.length > 0) return mean(near);
  }
  return null;
};
