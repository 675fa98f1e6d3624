/** A reference display: peak white, what its black gives and the room reflects, cd/m², and its exponent (ITU-R BT.1886). */
const PEAK = 100;
const BLACK = 0.05;
const GAMMA = 2.4;

const luminance = (level: number): number => BLACK + PEAK * Math.max(0, level) ** GAMMA;

/** Coefficients of the just noticeable differences below a luminance (DICOM PS3.14, after Barten 1992), in log10 cd/m². */
const JND = [
  71.498068, 94.593053, 41.912053, 9.8247004, 0.28175407, -1.1878455, -0.18014349, 0.14710899, -0.017046845,
];
const differencesBelow = (cdPerM2: number): number => {
  const x = Math.log10(Math.max(0.05, cdPerM2));
  return JND.reduceRight((sum, c) => sum * x + c, 0);
};

/**
 * How many just noticeable differences a step is high.
 * @param level middle of the step, fraction of range
 * @param height fraction of range
 */
export const noticeableSteps = (level: number, height: number): number =>
  differencesBelow(luminance(level + height / 2)) - differencesBelow(luminance(level - height / 2));

/** Differences that disturb two viewers in three, and how fast their share rises about there. */
const DISTURBING = 5.6;
const STEEPNESS = 2.46;

/**
 * Share of viewers whom the steps of a gradient disturb (a Weibull curve): an 8-bit step of about two differences hardly
 * anybody, one of 7 bits a third, one of 6 bits nearly all.
 * @returns 0–1
 */
export const disturbed = (differences: number): number =>
  1 - Math.exp(-((Math.max(0, differences) / DISTURBING) ** STEEPNESS));
