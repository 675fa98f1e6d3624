import { LEAST_FRAMES } from '../../motion/shots.js';
import { mean, median, weightedMedian } from '../../maths/robust.js';
import { outstandingIn } from './flashes.js';
import { BANDS } from './light.js';
import {
  fitSinusoid,
  refineFrequency,
  sinusoidAt,
  spectrumOf,
  type FittedSinusoid,
  type Spectrum,
} from '../../maths/spectrum.js';

/** What the light of one shot does. Fractions of the mean light, not percent. */
export interface ShotFlicker {
  readonly frames: number;
  readonly rms: number;
  readonly depth: number;
  /** Standard error of the depth, where it is regular and where not. */
  readonly depthError: number;
  readonly frequencyHz: number;
  /** Share of the power that the sinusoid and its harmonics explain, 0–1. */
  readonly periodicShare: number;
  /** Whether one frequency explains most of it. */
  readonly regular: boolean;
  /** Bars over the picture height, signed by the way they run; 0 for the whole frame at once. */
  readonly bars: number;
  readonly spectrum: Spectrum;
  /** Light of the whole frame about its trend, one value a frame. */
  readonly light: Float64Array;
  /** The same of the middle row band alone: bars of light part over the whole frame average out. */
  readonly middle: Float64Array;
}

/** With light known in a smaller share of the frames in which it holds, nothing is claimed. */
const LEAST_KNOWN_SHARE = 0.2;
/** Share of the power that one frequency must explain before the flicker counts as regular. */
const REGULAR = 0.55;
const MOST_BARS = 8;
const BAR_STEP = 0.02;
/** Fewer bars than this over the height are one light for the whole frame, seen row after row. */
export const LEAST_BARS = 0.2;
const LOWEST_HZ = 0.4;
/** A rhythm has to be seen this often. */
const LEAST_CYCLES = 2;
/**
 * Analyses the light curves of one shot.
 * @param curves log light about its trend for each row band, one value a frame, `NaN` where unknown
 * @param errors curves as large as the errors of those, and independent of them
 * @param holding frames of the shot in which the exposure does not change
 */
export const analyseShot = (
  curves: readonly Float64Array[],
  errors: readonly Float64Array[],
  frameRate: number,
  holding = curves[0].length,
): ShotFlicker | null => {
  const bands = withoutFlashes(curves).map(toLight);
  const known = bands[0].reduce((n, v) => n + (Number.isNaN(v) ? 0 : 1), 0);
  if (known < Math.max(LEAST_FRAMES, holding * LEAST_KNOWN_SHARE)) return null;
  const light = acrossBands(bands, sureness(errors));
  const wholeRms = Math.sqrt(power(light));
  // Every band shows the same bars: the middle one of all is not led astray by those that something passes through.
  const bandRms = Math.sqrt(Math.max(0, median(bands.map((b, i) => power(b) - power(errors[i])))));
  const spectrum = spectrumOf(bands, frameRate);
  // Bands that are followed badly drift, and would hide the rhythm of them all; bars partly cancel out over the whole frame.
  const found = [
    { signals: bands, spectrum },
    { signals: [light], spectrum: spectrumOf([light], frameRate) },
  ]
    .map(({ signals, spectrum: own }) =>
      refineFrequency(signals, strongest(own), frameRate / light.length, frameRate),
    )
    .map((hz) => rhythmAt(hz, { bands, light, wholeRms, bandRms, known }, frameRate))
    .reduce((a, b) => (b.periodicShare > a.periodicShare ? b : a));
  const { frequencyHz, bars, wholeFrame, fitted, seen, periodicShare } = found;
  const regular = periodicShare >= REGULAR;
  const left = seen * seen * (1 - periodicShare);
  return {
    frames: known,
    // Light without a rhythm is the light of the whole frame: an iris, a lamp, a shutter.
    rms: regular ? seen : wholeRms,
    depth: fitted.depth,
    depthError: regular ? amplitudeError(left, known) : rmsError(mean(errors.map(power)), wholeRms, known),
    frequencyHz,
    periodicShare,
    regular,
    bars: wholeFrame ? 0 : bars,
    spectrum,
    light,
    middle: bands[BANDS >> 1],
  };
};

/** The light of one shot, and how strongly it swings: of the whole frame, and of most bands. */
interface ShotLight {
  readonly bands: readonly Float64Array[];
  readonly light: Float64Array;
  readonly wholeRms: number;
  readonly bandRms: number;
  /** Frames of known light. */
  readonly known: number;
}

/** How much of the light one frequency explains, as light of the whole frame or as bars. */
const rhythmAt = (frequencyHz: number, shot: ShotLight, frameRate: number) => {
  const phasors = shot.bands.map((b) => fitSinusoid(b, frequencyHz, frameRate));
  const { bars, coherent } = countBars(phasors);
  const wholeFrame = Math.abs(bars) < LEAST_BARS;
  const fitted = wholeFrame
    ? harmonicFit(shot.light, frequencyHz, frameRate)
    : barFit(phasors, bars, coherent);
  const seen = wholeFrame ? shot.wholeRms : shot.bandRms;
  const cycles = (frequencyHz * shot.known) / frameRate;
  const share = seen > 0 ? fitted.power / (seen * seen) : 0;
  const periodicShare = cycles >= LEAST_CYCLES ? Math.min(1, share) : 0;
  // What is seen so seldom that neither half of the shot shows a rhythm of its own must be the same in both.
  const alike =
    cycles < 2 * LEAST_CYCLES ? likeness(wholeFrame ? [shot.light] : shot.bands, frequencyHz, frameRate) : 1;
  return { frequencyHz, bars, wholeFrame, fitted, seen, periodicShare: periodicShare * alike };
};

/** How far two halves of a shot show the same wave, its phase and its height: 1 the same, 0 only one of them or none. */
const likeness = (signals: readonly Float64Array[], frequencyHz: number, frameRate: number): number => {
  let [both, each] = [0, 0];
  for (const signal of signals) {
    const inHalf = (first: boolean) =>
      fitSinusoid(
        signal.map((v, t) => (t < signal.length / 2 === first ? v : NaN)),
        frequencyHz,
        frameRate,
      );
    const [a, b] = [inHalf(true), inHalf(false)];
    both += 2 * (a.cos * b.cos + a.sin * b.sin);
    each += a.cos ** 2 + a.sin ** 2 + b.cos ** 2 + b.sin ** 2;
  }
  return each > 0 ? Math.max(0, both / each) : 0;
};

/** Of a sinusoid's amplitude in noise of a power, seen in so many frames. */
const amplitudeError = (noise: number, frames: number): number => Math.sqrt((2 * noise) / frames);

/** Of the root of twice a mean square: errors add their own power to it. */
const rmsError = (errors: number, rms: number, frames: number): number =>
  Math.SQRT2 * (Math.sqrt(errors / frames) + errors / (2 * Math.max(rms, Math.sqrt(errors), 1e-9)));

const toLight = (log: Float64Array): Float64Array => {
  const light = log.map(Math.exp);
  const known = light.filter((v) => !Number.isNaN(v));
  const level = mean(known);
  return light.map((v) => v / level - 1);
};

const power = (signal: Float64Array): number => {
  let sum = 0;
  let n = 0;
  for (const v of signal)
    if (!Number.isNaN(v)) {
      sum += v * v;
      n++;
    }
  return n > 0 ? sum / n : 0;
};

/** The light that the bands share, frame by frame. @param weights of the bands, all alike where none are given */
export const acrossBands = (
  bands: readonly Float64Array[],
  weights: ArrayLike<number> = new Float64Array(bands.length).fill(1),
): Float64Array =>
  bands[0].map((_, t) =>
    Number.isNaN(bands[0][t])
      ? NaN
      : weightedMedian(
          bands.map((b) => b[t]),
          weights,
        ),
  );

/** How much each band counts: one that is followed worse than most, the less for its errors (power); all others alike. */
const sureness = (errors: readonly Float64Array[]): number[] => {
  const powers = errors.map(power);
  const usual = median(powers);
  return powers.map((p) => (p > usual ? usual / p : 1));
};

/** The curves with nothing where single frames stand out from them all. */
const withoutFlashes = (curves: readonly Float64Array[]): readonly Float64Array[] => {
  const flashes = outstandingIn(acrossBands(curves));
  if (flashes.size === 0) return curves;
  return curves.map((c) => c.map((v, t) => (flashes.has(t) ? NaN : v)));
};

const strongest = ({ frequencyHz, amplitude }: Spectrum): number => {
  let best = 0;
  for (let k = 1; k < amplitude.length; k++)
    if (frequencyHz[k] >= LOWEST_HZ && amplitude[k] > (best === 0 ? 0 : amplitude[best])) best = k;
  return frequencyHz[best];
};

/** The number of bars whose phases line the bands up best. */
const countBars = (phasors: readonly { cos: number; sin: number }[]): { bars: number; coherent: number } => {
  let best = { bars: 0, coherent: 0 };
  const total = phasors.reduce((s, p) => s + Math.hypot(p.cos, p.sin), 0) || 1;
  for (let bars = -MOST_BARS; bars <= MOST_BARS + 1e-9; bars += BAR_STEP) {
    let re = 0;
    let im = 0;
    for (let b = 0; b < BANDS; b++) {
      const angle = (2 * Math.PI * bars * (b + 0.5)) / BANDS;
      re += phasors[b].cos * Math.cos(angle) + phasors[b].sin * Math.sin(angle);
      im += phasors[b].sin * Math.cos(angle) - phasors[b].cos * Math.sin(angle);
    }
    const coherent = Math.hypot(re, im) / total;
    if (coherent > best.coherent + 1e-9) best = { bars, coherent };
  }
  return best;
};

/** A band averages the light over its height; the wave is higher by this than what the band shows. */
const bandLoss = (bars: number): number => {
  const x = (Math.PI * Math.abs(bars)) / BANDS;
  return x === 0 ? 1 : Math.sin(x) / x;
};

const barFit = (
  phasors: readonly FittedSinusoid[],
  bars: number,
  coherent: number,
): { depth: number; power: number } => {
  // As with the power of the bands: the mean is led astray by those that something passes through.
  const amplitude = median(phasors.map((p) => Math.hypot(p.cos, p.sin)));
  return { depth: amplitude / bandLoss(bars), power: coherent * median(phasors.map((p) => p.power)) };
};

const MOST_HARMONICS = 4;

/** Half of the peak-to-peak of fundamental and harmonics together. */
const harmonicFit = (
  light: Float64Array,
  frequencyHz: number,
  frameRate: number,
): { depth: number; power: number } => {
  const harmonics: { hz: number; wave: FittedSinusoid }[] = [];
  for (let h = 1; h <= MOST_HARMONICS && h * frequencyHz < frameRate / 2; h++)
    harmonics.push({ hz: h * frequencyHz, wave: fitSinusoid(light, h * frequencyHz, frameRate) });
  if (harmonics.length === 0)
    harmonics.push({ hz: frequencyHz, wave: fitSinusoid(light, frequencyHz, frameRate) });
  const fundamental = Math.hypot(harmonics[0].wave.cos, harmonics[0].wave.sin);
  // A harmonic counts when it stands above what noise would put there.
  const kept = harmonics.filter(
    ({ wave }, i) => i === 0 || Math.hypot(wave.cos, wave.sin) > 0.1 * fundamental,
  );
  let [low, high] = [Infinity, -Infinity];
  const steps = 256;
  for (let i = 0; i < steps; i++) {
    const t = ((i / steps) * frameRate) / frequencyHz;
    const v = kept.reduce((s, { hz, wave }) => s + sinusoidAt(wave, hz, frameRate, t), 0);
    low = Math.min(low, v);
    high = Math.max(high, v);
  }
  return { depth: (high - low) / 2, power: kept.reduce((sum, { wave }) => sum + wave.power, 0) };
};
