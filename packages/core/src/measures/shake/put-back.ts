import { slowCourse, slowGain } from '../../maths/smooth.js';
import { spectrumOf } from '../../maths/spectrum.js';
import { INTENDED_MOTION_HZ } from '../../motion/intended.js';
import { isKnown, rootMeanSquare } from './path.js';

/** Swings are looked at from the cut up to so many times its frequency, each this much above the one before; quicker ones stay whole. */
const HIGHEST = 8;
const FINER = 1.08;
/** Of swings that a shot is too short for, and leaves less of than this share of their power, nothing is known. */
const LEAST_LEFT = 0.5;

/**
 * Power of the jitter of one axis, with what the course of a move followed of it put back. Near the ends of a shot the course has
 * neighbours on one side only and follows some of each swing: by how much is known for every frequency from the course of a swing
 * alone, and which frequencies the jitter has it says itself.
 * @param jitter what is left of a path, px or radians; `NaN` where it is not known
 * @param frameRate frames a second
 * @returns mean square, of the unit of the jitter; 0 of nothing that is known
 */
export const jitterPower = (jitter: Float64Array, frameRate: number): number => {
  const power = rootMeanSquare(jitter) ** 2;
  if (power === 0 || frameRate / 2 <= INTENDED_MOTION_HZ) return power;
  const swings = swingsUpTo(frameRate / 2);
  const left = swings.map((hz) => shareLeft(jitter, hz, frameRate));
  const { frequencyHz, amplitude } = spectrumOf([jitter], frameRate);
  let [all, put] = [0, 0];
  amplitude.forEach((a, k) => {
    all += a * a;
    const share = between(swings, left, frequencyHz[k]);
    put += (a * a) / (share < LEAST_LEFT ? 1 : share);
  });
  return all > 0 ? (power * put) / all : power;
};

/** Frequencies at which it is worked out what is left of a swing, Hz. */
const swingsUpTo = (highestHz: number): number[] => {
  const top = Math.min(HIGHEST * INTENDED_MOTION_HZ, highestHz);
  const times = top / INTENDED_MOTION_HZ;
  const steps = Math.ceil(Math.log(times) / Math.log(FINER));
  return Array.from({ length: steps + 1 }, (_, k) => INTENDED_MOTION_HZ * times ** (k / steps));
};

/** What a shot of these frames leaves of a swing against what one without ends does, share of its power, whatever its phase. */
const shareLeft = (jitter: Float64Array, hz: number, frameRate: number): number => {
  const rest = (of: (angle: number) => number): number => {
    const swing = jitter.map((v, f) => (isKnown(v) ? of((2 * Math.PI * hz * f) / frameRate) : NaN));
    const course = slowCourse(swing, frameRate, INTENDED_MOTION_HZ);
    return swing.reduce((sum, v, f) => (isKnown(v) ? sum + (v - course[f]) ** 2 : sum), 0);
  };
  const withoutEnds = 1 - slowGain(hz, frameRate, INTENDED_MOTION_HZ);
  return (rest(Math.cos) + rest(Math.sin)) / (jitter.filter(isKnown).length * withoutEnds ** 2);
};

/** The value at one place of a course through several; all of it where nothing is said. */
const between = (places: readonly number[], values: readonly number[], at: number): number => {
  const next = places.findIndex((p) => p >= at);
  if (next === -1 || at < places[0]) return 1;
  if (next === 0) return values[0];
  const t = (at - places[next - 1]) / (places[next] - places[next - 1]);
  return (1 - t) * values[next - 1] + t * values[next];
};
