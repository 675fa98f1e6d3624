import type { KernelMemory } from '@bevrin/core';
import { gaussianTaps, throughLens } from './lens.js';
import type { Loops, Room } from './loops.js';
import { oetf709 } from './sensor.js';

/** What a camera, or somebody after it, did to make edges look crisp. */
export interface Sharpening {
  /** How much of what a blur takes away is added once more. */
  readonly amount: number;
  /** Standard deviation of that blur, px. */
  readonly sigmaPx: number;
}

/**
 * Sharpens a signal (unsharp masking): its difference to a blurred copy is added to it.
 * @param signal interleaved, changed in place
 * @param blurred, across, taps rooms to work in, as the lens asks for them
 */
export const sharpen = (
  memory: KernelMemory<Loops>,
  signal: Room,
  blurred: Room,
  across: Room,
  taps: Room,
  width: number,
  height: number,
  { amount, sigmaPx }: Sharpening,
): void => {
  const count = 3 * width * height;
  blurred.floats.set(signal.floats.subarray(0, count));
  throughLens(memory, blurred, across, taps, width, height, sigmaPx);
  for (let i = 0; i < count; i++) signal.floats[i] += amount * (signal.floats[i] - blurred.floats[i]);
};

/** A step as scenes have them, linear light; instants between two pixels at which it may fall; pixels to each side. */
const [DARK, LIGHT] = [0.05, 0.3];
const PHASES = 16;
const REACH = 32;
/** A photosite sums over its own width: that variance, px². */
const APERTURE = 1 / 12;

/**
 * How far sharpening lifts the bright side of an edge above its level and sinks the dark side below its own, whichever is
 * less, as a share of the step: of an edge that lies anywhere between two pixels, which is what a file can show of it.
 * @param lensSigmaPx blur of the lens, px
 */
export const overshootOf = ({ amount, sigmaPx }: Sharpening, lensSigmaPx: number): number => {
  const edgeSigma = Math.sqrt(lensSigmaPx ** 2 + APERTURE);
  const taps = gaussianTaps(sigmaPx);
  const radius = taps.length >> 1;
  const [dark, bright] = [oetf709(DARK), oetf709(LIGHT)];
  let sum = 0;
  for (let phase = 0; phase < PHASES; phase++) {
    const signal = (x: number): number =>
      oetf709(DARK + (LIGHT - DARK) * normal((x + phase / PHASES) / edgeSigma));
    const drawn = Array.from({ length: 2 * REACH + 1 }, (_, i) => {
      const x = i - REACH;
      const blurred = taps.reduce((all, t, k) => all + t * signal(x + k - radius), 0);
      return signal(x) + amount * (signal(x) - blurred);
    });
    sum += Math.min(Math.max(...drawn) - bright, dark - Math.min(...drawn)) / (bright - dark);
  }
  return sum / PHASES;
};

/** Share of a normal distribution that lies below: by the series of Marsaglia 2004. */
const normal = (x: number): number => {
  if (Math.abs(x) > 7) return x > 0 ? 1 : 0;
  let [sum, term] = [x, x];
  for (let n = 3; Math.abs(term) > 1e-12; n += 2) {
    term *= (x * x) / n;
    sum += term;
  }
  return 0.5 + (sum * Math.exp(-0.5 * x * x)) / Math.sqrt(2 * Math.PI);
};
