/** What happens by chance to fewer than one in a hundred is not taken for chance: so many true ones are given up, so many false ones told. */
export const BY_CHANCE = 0.01;

/** The chance of at least so many where a mean is expected, and each falls where it falls (Poisson 1837). */
export const chanceOf = (least: number, mean: number): number => {
  // By its logarithm: where thousands are expected, the chance of none is too small for a number.
  let [fewer, log] = [0, -mean];
  for (let k = 0; k < least; k++) {
    fewer += Math.exp(log);
    log += Math.log(mean / (k + 1));
  }
  return Math.max(0, 1 - fewer);
};

/**
 * Standard deviations above its mean that a value with normal errors reaches by a chance: to 5·10⁻⁴ (Hastings 1955, in
 * Abramowitz and Stegun 1964, 26.2.23).
 * @param chance more than 0, 0.5 at most
 */
export const sigmasBeyond = (chance: number): number => {
  const t = Math.sqrt(-2 * Math.log(chance));
  return (
    t - (2.515517 + t * (0.802853 + t * 0.010328)) / (1 + t * (1.432788 + t * (0.189269 + t * 0.001308)))
  );
};

/** Standard deviations that none of so many values with normal errors reaches, but by chance ({@link BY_CHANCE}). */
export const sigmasBeyondAll = (values: number): number => sigmasBeyond(BY_CHANCE / values);

/** Share of a normal distribution within so many standard deviations: the error function (Abramowitz and Stegun 1964, 7.1.26). */
export const shareWithin = (deviations: number): number => {
  const x = deviations / Math.SQRT2;
  const t = 1 / (1 + 0.3275911 * x);
  const series = [0.254829592, -0.284496736, 1.421413741, -1.453152027, 1.061405429];
  return 1 - series.reduceRight((sum, a) => (sum + a) * t, 0) * Math.exp(-x * x);
};
