import { shareWithin } from '../maths/chance.js';
import type { Figure, Tolerance } from './descriptor.js';

/** Of a normal distribution, 90 % lie within this many standard deviations. */
const NINE_OF_TEN = 1.645;

const amountOf = ({ share = 0, amount = 0 }: Tolerance, value: number): number =>
  share * Math.abs(value) + amount;

type Known = Pick<Figure<never>, 'interval'>;

/**
 * Half of the 90 % interval of a figure. What stays unknown however good the evidence, and how far the evidence itself
 * scatters, are independent of each other. Unit of the figure.
 * @param scatter standard error of the figure, from its own evidence
 * @returns `null` where the figure states none
 */
export const halfInterval = ({ interval }: Known, value: number, scatter: number): number | null =>
  interval ? Math.hypot(amountOf(interval, value), NINE_OF_TEN * scatter) : null;

/**
 * The chance that a figure lies as near to the truth as we want it: what a confidence is, where the evidence can scatter.
 * @returns 0–1; 1 of a figure that states no interval or no goal
 */
export const chanceWithinGoal = (
  figure: Known & Pick<Figure<never>, 'accuracy'>,
  value: number,
  scatter: number,
): number => {
  const half = halfInterval(figure, value, scatter);
  if (half === null || !figure.accuracy) return 1;
  return shareWithin(amountOf(figure.accuracy.goal, value) / Math.max(1e-12, half / NINE_OF_TEN));
};
